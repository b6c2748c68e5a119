import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import { activeTicks, largest, nearestActive } from '../../timer/index.js';
import type { AimDerivation, LinkName } from './derivation.js';
import type { PulseSetting } from './pulse.js';
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
	return turned.flatMap((one) => (one.of === 'duty' ? (pulse ? dutyRelations(pulse) : []) : steppedRelations(one)));
}

/** A rate or a time: all that the register holds is on one straight line of steps. */
function steppedRelations(turned: Turned): Relation[] {
	const { of, unit, register, kind, factor, slope, offset, least, most, low, high } = turned;
	const stretch = of === 'rate' ? 'rate' : 'time';
	const reads = { of, unit: unit as RelationEnd['unit'] };
	const gives = (value: Rational): Rational | undefined => {
		const steps = value.sub(Rational.int(offset)).mul(Rational.int(slope));
		const inside = value.isInteger && steps.compare(Rational.int(least)) >= 0 && steps.compare(Rational.int(most)) <= 0;
		if (!inside || (kind === 'over' && steps.sign <= 0)) return undefined;
		return kind === 'over' ? factor.div(steps) : steps.div(factor);
	};
	const ends = [least, most].map((steps) => Rational.int(slope * steps + offset)).sort((a, b) => a.compare(b));
	return [
		relation(reads, reads, { stretch, low, high, at: (wish) => alone(turnedAt(turned, wish)?.gives) }),
		relation({ of: register, unit: '' }, reads, { stretch, low: ends[0], high: ends[1], at: (value) => alone(gives(value)) })
	];
}

/** A duty and the high width, with the rules that the ends of the compare have of their own. */
function dutyRelations({ counting, reload, rule, ticks, period }: PulseSetting): Relation[] {
	const top = Rational.int(largest(counting.width));
	const whole = Rational.int(ticks);
	const share: RelationEnd = { of: 'duty', unit: '%' };
	const compare: RelationEnd = { of: 'compare', unit: '' };
	const gives = (value: Rational): Rational | undefined => {
		if (!value.isInteger || value.sign < 0 || value.compare(top) > 0) return undefined;
		const active = activeTicks(counting, reload, rule, value.toNumber());
		return active === null ? undefined : Rational.int(active).div(whole);
	};
	const wished = (duty: Rational): Rational | undefined =>
		duty.sign < 0 || duty.compare(Rational.one) > 0 ? undefined : nearestActive(counting, reload, rule, duty.mul(whole))?.duty;
	const values = { low: Rational.zero, high: Rational.int(Math.min(reload + 1, largest(counting.width))) };
	return [
		relation(share, share, { stretch: 'ratio', low: Rational.zero, high: Rational.one, at: (duty) => alone(wished(duty)) }),
		relation(compare, share, { stretch: 'ratio', ...values, at: (value) => alone(gives(value)) }),
		relation(compare, { of: 'high', unit: 's' }, { stretch: 'time', ...values, at: (value) => alone(gives(value)?.mul(period)) })
	];
}

function alone(value: Rational | undefined): Reach | undefined {
	return value && [value, value];
}

/** Whole numbers of steps that fit into a stretch, wherever it begins: one more or less, unless it is a whole number of them. */
export function stepsIn(stretch: Rational): [bigint, bigint] {
	return [stretch.floor(), -stretch.neg().floor()];
}

/** A width, or the time of a number of periods, read in ticks. */
export function countedTime(seconds: Seconds, tickRate: Hertz): [bigint, bigint] {
	return stepsIn(seconds.mul(tickRate));
}
