import { kindOf, type AimDerivation, type PlannedQuantity } from '../aims/index.js';
import { holdAgainst, plannedBudget, type HeldValue } from '../check/index.js';
import { Rational } from '../exact/index.js';
import type { Instrument, PlanClocks, Reading } from '../plan/index.js';
import { believed, readInstrumentOf, readValueAs, type ValueTrouble, type ValueUnit } from './value.js';

export interface JudgedReading {
	planned: PlannedQuantity;
	value: Rational;
	asSet: HeldValue;
	/** Left out where nothing was wished. */
	asWished?: HeldValue;
	/** The signal is outside of what its instrument can be believed for. */
	beyond: boolean;
}

export type ReadingTrouble = ValueTrouble | 'nothing-planned' | 'no-value';

/** What can be read of an aim, quantity by quantity. */
export function readable(derivation: AimDerivation): PlannedQuantity[] {
	return derivation.timer && derivation.use
		? kindOf(derivation.aim)
				.expect(derivation)
				.filter(({ of }) => of !== 'level')
		: [];
}

/**
 * Holds a typed reading against the plan and against the wish (timers.md 11): what it can be off by takes the place of a recording's part.
 * One beyond its instrument's range proves nothing, whatever it says.
 */
export function judgeReading(
	derivation: AimDerivation | undefined,
	clocks: PlanClocks,
	reading: Reading,
	instrument: Instrument | undefined
): JudgedReading | ReadingTrouble {
	const all = derivation ? readable(derivation) : [];
	const planned = all.find(({ of, line }) => of === reading.of && line === reading.line) ?? all.find(({ of }) => of === reading.of);
	if (!planned || !derivation) return 'nothing-planned';
	if (reading.value.trim() === '') return 'no-value';
	const read = readValueAs(planned.unit as ValueUnit, reading.value, '', reading.error);
	if (typeof read === 'string') return read;
	const by = readInstrumentOf(instrument);
	const source = clocks.ppm(derivation.timer!.kernel) ?? [Rational.zero, Rational.zero];
	const hold = (against: Rational) =>
		holdAgainst(read.value, against, plannedBudget(planned, against, { source, recording: read.error, instrument: by.ppm }));
	const rate = planned.unit === 'Hz' ? read.value : all.find(({ of }) => of === 'frequency')?.planned;
	return {
		planned,
		value: read.value,
		asSet: hold(planned.planned),
		...(planned.wish && { asWished: hold(planned.wish) }),
		beyond: !believed(by, rate)
	};
}
