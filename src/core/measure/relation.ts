import { Rational } from '../exact/index.js';
import { lowerBound, type Trace } from '../trace/index.js';
import { fallsIn, risesIn, type Window } from './pulse.js';
import { FractionSum, IntegerSum, type Statistics } from './statistics.js';

/** Two lines of one unit held against each other (timers.md 11). Throws RangeError when their units differ. */
function sameUnit(a: Trace, b: Trace): void {
	if (!a.unit.equals(b.unit)) throw new RangeError(`traces of unit ${a.unit} and ${b.unit} cannot be related`);
}

/** From each rise of `against` to the first rise of the trace at or after it and before the next rise of `against`. Seconds, and degrees of that period. */
export function measureDelay(trace: Trace, against: Trace, window: Window): { delay: Statistics | null; phase: Statistics | null } {
	sameUnit(trace, against);
	const delay = new IntegerSum();
	const phase = new FractionSum();
	const rises = risesIn(trace, window);
	const marks = risesIn(against, window);
	for (let i = 0; i + 1 < marks.length; i++) {
		const found = rises[lowerBound(rises, rises.length, marks[i])];
		if (found === undefined || found >= marks[i + 1]) continue;
		delay.add(found - marks[i]);
		phase.add(found - marks[i], marks[i + 1] - marks[i]);
	}
	return { delay: delay.result(trace.unit), phase: phase.result(Rational.int(360)) };
}

/** From each fall of the trace to the first rise of `against` at or after it, unless the trace rises again first: that is no gap. Seconds. */
export function measureGap(trace: Trace, against: Trace, window: Window): Statistics | null {
	sameUnit(trace, against);
	const gap = new IntegerSum();
	const rises = risesIn(against, window);
	const again = risesIn(trace, window);
	for (const fall of fallsIn(trace, window)) {
		const found = rises[lowerBound(rises, rises.length, fall)];
		const next = again[lowerBound(again, again.length, fall)];
		if (found !== undefined && (next === undefined || found < next)) gap.add(found - fall);
	}
	return gap.result(trace.unit);
}
