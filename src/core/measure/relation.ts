import { Rational, type Seconds } from '../exact/index.js';
import { lowerBound, type Trace } from '../trace/index.js';
import { fallsIn, risesIn, type Window } from './pulse.js';
import { FractionSum, IntegerSum, type Statistics } from './statistics.js';

/** Two lines of one unit held against each other (timers.md 11). Throws RangeError when their units differ. */
function sameUnit(a: Trace, b: Trace): void {
	if (!a.unit.equals(b.unit)) throw new RangeError(`traces of unit ${a.unit} and ${b.unit} cannot be related`);
}

/** From each rise of `against` to the first rise of the trace at or after it and before the next rise of `against`. Seconds, and degrees of that period. */
export function measureDelay(trace: Trace, against: Trace, window: Window): { delay: Statistics | null; phase: Statistics | null } {
	const delay = new IntegerSum();
	const phase = new FractionSum();
	eachDelay(trace, against, window, (from, found, next) => {
		delay.add(found - from);
		phase.add(found - from, next - from);
	});
	return { delay: delay.result(trace.unit), phase: phase.result(Rational.int(360)) };
}

/** Calls `visit` with each rise of `against`, the first rise of the trace at or after it, and the next rise of `against`, before which that lies. */
export function eachDelay(trace: Trace, against: Trace, window: Window, visit: (from: number, found: number, next: number) => void): void {
	sameUnit(trace, against);
	const rises = risesIn(trace, window);
	const marks = risesIn(against, window);
	for (let i = 0; i + 1 < marks.length; i++) {
		const found = rises[lowerBound(rises, rises.length, marks[i])];
		if (found !== undefined && found < marks[i + 1]) visit(marks[i], found, marks[i + 1]);
	}
}

/** Delay and phase to a planned place, with the mean of the periods that they were measured in. */
export interface DelayMeasures {
	delay: Statistics | null;
	phase: Statistics | null;
	/** Mean period of `against` where a delay was found; null where none was. */
	period: Seconds | null;
}

/**
 * As measureDelay, but to the rise nearest to the planned place and within half of that period of `against`: half late
 * counts, half early does not, of two equally near the later. It may come before the rise of `against`, and lie outside the window. A
 * period of `against` of which a part is unknown is none, and a trace that is unknown around the place gives no delay. `planned`:
 * seconds after each rise, or a share of each period.
 */
export function measureNear(
	trace: Trace,
	against: Trace,
	window: Window,
	planned: { seconds: Seconds } | { share: Rational }
): DelayMeasures {
	sameUnit(trace, against);
	const all = { start: -Infinity, end: Infinity };
	const rises = risesIn(trace, all);
	const [delay, phase, period] = [new IntegerSum(), new FractionSum(), new IntegerSum()];
	for (const [from, to] of periodsIn(against, window)) {
		const whole = to - from;
		const place = 'seconds' in planned ? planned.seconds.div(trace.unit) : planned.share.mul(Rational.int(whole));
		const half = Rational.ratio(whole, 2);
		if (unknownWithin(trace, from + Math.ceil(place.sub(half).toNumber()), from + Math.floor(place.add(half).toNumber()))) continue;
		const found = nearestRise(rises, from, place, half);
		if (found === undefined) continue;
		delay.add(found - from);
		phase.add(found - from, whole);
		period.add(whole);
	}
	return {
		delay: delay.result(trace.unit),
		phase: phase.result(Rational.int(360)),
		period: period.result(trace.unit)?.mean ?? null
	};
}

/** Periods in the window, from rise to rise, without those of which a part is unknown. */
function periodsIn(trace: Trace, window: Window): [number, number][] {
	const marks = risesIn(trace, window);
	return marks.slice(1).flatMap((to, i): [number, number][] => (unknownWithin(trace, marks[i], to) ? [] : [[marks[i], to]]));
}

function nearestRise(rises: readonly number[], from: number, place: Rational, half: Rational): number | undefined {
	const off = (rise: number) => Rational.int(rise - from).sub(place);
	const at = lowerBound(rises, rises.length, Math.floor(from + place.toNumber()));
	let best: number | undefined;
	for (const rise of [rises[at - 1], rises[at], rises[at + 1]]) {
		if (rise === undefined) continue;
		const distance = off(rise);
		if (distance.compare(half) > 0 || distance.compare(half.neg()) <= 0) continue;
		if (best === undefined || distance.abs().compare(off(best).abs()) <= 0) best = rise;
	}
	return best;
}

/** Is a part of from..to, its ends included, of unknown level? */
function unknownWithin(trace: Trace, from: number, to: number): boolean {
	// An unknown stretch that ends at `from` touches it.
	let edge = trace.edgesBefore(from);
	if (trace.levelAfter(edge) === 2) return true;
	for (const last = trace.edgesBefore(to + 1); edge < last; edge++) if (trace.levelAfter(edge + 1) === 2) return true;
	return false;
}

/** Gaps between the falls of the trace and the rises of `against` (eachGap). Seconds. */
export function measureGap(trace: Trace, against: Trace, window: Window): Statistics | null {
	const gap = new IntegerSum();
	eachGap(trace, against, window, (fall, rise) => gap.add(rise - fall));
	return gap.result(trace.unit);
}

/**
 * Calls `visit` with each fall of the trace and the first rise of `against` at or after it, unless the trace rises again first: that is no
 * gap, nor is one of which a part is unknown.
 */
export function eachGap(trace: Trace, against: Trace, window: Window, visit: (fall: number, rise: number) => void): void {
	sameUnit(trace, against);
	const rises = risesIn(against, window);
	const again = risesIn(trace, window);
	for (const fall of fallsIn(trace, window)) {
		const found = rises[lowerBound(rises, rises.length, fall)];
		const next = again[lowerBound(again, again.length, fall)];
		if (found === undefined || (next !== undefined && found >= next)) continue;
		if (!unknownWithin(trace, fall, found) && !unknownWithin(against, fall, found)) visit(fall, found);
	}
}
