import { Rational } from '../exact/index.js';
import { measureGap, measureNear, measurePulses, type Statistics, type Window } from '../measure/index.js';
import type { Trace } from '../trace/index.js';
import type { Measured, PartOf, Periods } from './budget.js';

/** What is to be measured, of a line and where it needs one of another; `planned`: where a delay or phase should lie. */
export interface ToMeasure {
	of: Measured;
	trace: Trace;
	against?: Trace;
	planned: Rational;
}

/** Measures a quantity with all that its recording's part hangs on (timers.md 11); undefined without any value. */
export function measureQuantity({ of, trace, against, planned }: ToMeasure, window: Window): PartOf | undefined {
	if (of === 'gap') return against && partOf(measureGap(trace, against, window), periodsOf(trace, window));
	if (of === 'delay' || of === 'phase') {
		if (!against) return undefined;
		const near = measureNear(trace, against, window, of === 'delay' ? { seconds: planned } : { share: planned.div(Rational.int(360)) });
		const found = partOf(near[of], periodsOf(against, window));
		return found && { ...found, ...(near.delay && { widths: near.delay }), ...(near.period && { over: near.period }) };
	}
	const pulses = measurePulses(trace, window);
	const { period, stretches, high } = pulses;
	const found = partOf(pulses[of], period ? { count: period.count, stretches, mean: period.mean } : undefined);
	return found && { ...found, ...(high && { widths: high }), ...(period && { over: period.mean }) };
}

function partOf(found: Statistics | null, periods: Periods | undefined): PartOf | undefined {
	return found ? { found, periods } : undefined;
}

function periodsOf(trace: Trace, window: Window): Periods | undefined {
	const { period, stretches } = measurePulses(trace, window);
	return period ? { count: period.count, stretches, mean: period.mean } : undefined;
}
