import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { AimDerivation, LinkName } from './derivation.js';
import { turnedAt, type Turned } from './turned.js';

export type RelationQuantity = Turned['of'] | LinkName | 'high' | 'count' | 'ticks';

/** What is set or read: its quantity, and the unit of a bare number. */
export interface RelationEnd {
	of: RelationQuantity;
	unit: 'Hz' | 's' | '%' | '';
}

/** What an aim reads, gives or counts as a function of what is set, with its rounding: what a sweep is held against. */
export interface Relation {
	/** "set>read": the names of both ends. */
	id: string;
	set: RelationEnd;
	reads: RelationEnd;
	/** How a faster clock source changes what is read: as a rate, as a time, or not at all. */
	stretch: 'rate' | 'time' | 'ratio';
	/** The least and the greatest that can be read at a setting; undefined where the registers do not reach it. */
	at(set: Rational): Reach | undefined;
	/** Settings that are worth drawing, both included. */
	low: Rational;
	high: Rational;
}

/** The least and the greatest. */
export type Reach = [Rational, Rational];

export function relation(set: RelationEnd, reads: RelationEnd, rest: Omit<Relation, 'id' | 'set' | 'reads'>): Relation {
	return { id: `${set.of}>${reads.of}`, set, reads, ...rest };
}

/** A wish against what comes of it, and the register's value against what it gives. */
export function turnedRelations(turned: readonly Turned[], { pulse }: AimDerivation): Relation[] {
	return turned.flatMap((one) => {
		const { of, unit, register, kind, factor, slope, offset, least, most, low, high } = one;
		const stretch = of === 'rate' ? 'rate' : of === 'duty' ? 'ratio' : 'time';
		const reads = { of, unit: unit as RelationEnd['unit'] };
		const gives = (steps: Rational) => (kind === 'over' ? factor.div(steps) : steps.div(factor));
		const held = (value: Rational): Rational | undefined => {
			const steps = value.sub(Rational.int(offset)).mul(Rational.int(slope));
			const inside = value.isInteger && steps.compare(Rational.int(least)) >= 0 && steps.compare(Rational.int(most)) <= 0;
			return inside && (kind !== 'over' || steps.sign > 0) ? gives(steps) : undefined;
		};
		const ends = [least, most].map((steps) => Rational.int(slope * steps + offset)).sort((a, b) => a.compare(b));
		const count: RelationEnd = { of: register, unit: '' };
		const from = (found: Rational | undefined): Reach | undefined => found && [found, found];
		const values = { low: ends[0], high: ends[1] };
		return [
			relation(reads, reads, { stretch, low, high, at: (wish) => from(turnedAt(one, wish)?.gives) }),
			relation(count, reads, { stretch, ...values, at: (value) => from(held(value)) }),
			...(of === 'duty' && pulse
				? [relation(count, { of: 'high', unit: 's' }, { stretch: 'time', ...values, at: (value) => from(held(value)?.mul(pulse.period)) })]
				: [])
		];
	});
}

/** Whole numbers of steps that fit into a stretch, wherever it begins: one more or less, unless it is a whole number of them. */
export function stepsIn(stretch: Rational): [bigint, bigint] {
	return [stretch.floor(), -stretch.neg().floor()];
}

/** A width, or the time of a number of periods, read in ticks. */
export function countedTime(seconds: Seconds, tickRate: Hertz): [bigint, bigint] {
	return stepsIn(seconds.mul(tickRate));
}
