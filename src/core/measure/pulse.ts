import { Rational } from '../exact/index.js';
import type { Level, Trace } from '../trace/index.js';
import { FractionSum, IntegerSum, type Statistics } from './statistics.js';

/** A window in the trace's units: start <= t < end. */
export interface Window {
	start: number;
	end: number;
}

/** Measured quantities of one line (timers.md 11): seconds, hertz and plain ratios; null where no whole period lies in the window. */
export interface PulseMeasures {
	period: Statistics | null;
	/** 1 / mean period, 1 / longest, 1 / shortest. */
	frequency: Statistics | null;
	high: Statistics | null;
	low: Statistics | null;
	/** Of the periods' duties. */
	duty: Statistics | null;
	/** Stretches of periods without a gap: those on both sides of an unknown level are two. */
	stretches: number;
	/** Rises in the window, and edges of any kind. */
	rises: number;
	edges: number;
	/** The level with which the window begins. */
	level: Level;
}

/**
 * Whole periods only: from rise to rise, both inside the window. A rise is an edge from 0 to 1; a stretch of unknown
 * level ends the period it falls in without counting it.
 */
export function measurePulses(trace: Trace, window: Window): PulseMeasures {
	const period = new IntegerSum();
	const high = new IntegerSum();
	const low = new IntegerSum();
	const duty = new FractionSum();
	let rises = 0;
	let stretches = 0;
	let rise = -1;
	let fall = -1;
	let known = false;
	/** The period before ended at the rise at hand. */
	let joined = false;
	const from = trace.edgesBefore(window.start);
	const end = Math.max(from, trace.edgesBefore(window.end));
	const begins = trace.levelAfter(from);
	let level = begins;
	trace.forEdges(from, end, (time, to) => {
		if (to === 1 && level === 0) {
			rises++;
			if (known) {
				period.add(time - rise);
				high.add(fall - rise);
				low.add(time - fall);
				duty.add(fall - rise, time - rise);
				if (!joined) stretches++;
			}
			joined = known;
			rise = time;
			known = true;
		} else if (to === 0 && level === 1) fall = time;
		else known = false;
		level = to;
	});
	const periods = period.result(trace.unit);
	return {
		period: periods,
		frequency: periods && inverted(periods),
		high: high.result(trace.unit),
		low: low.result(trace.unit),
		duty: duty.result(Rational.one),
		stretches,
		rises,
		edges: end - from,
		level: begins
	};
}

/** Frequency of a period: the deviation carries over as a ratio of the mean. */
function inverted(period: Statistics): Statistics {
	const mean = period.mean.inverse();
	const deviation = (period.deviation / period.mean.toNumber()) * mean.toNumber();
	return { ...period, mean, min: period.max.inverse(), max: period.min.inverse(), deviation };
}

/** Times of all rises (edges 0 to 1) in the window. */
export function risesIn(trace: Trace, window: Window): number[] {
	return edgesIn(trace, window, 0, 1);
}

/** Times of all falls (edges 1 to 0) in the window. */
export function fallsIn(trace: Trace, window: Window): number[] {
	return edgesIn(trace, window, 1, 0);
}

function edgesIn(trace: Trace, window: Window, before: 0 | 1, after: 0 | 1): number[] {
	const times: number[] = [];
	const from = trace.edgesBefore(window.start);
	let level = trace.levelAfter(from);
	trace.forEdges(from, Math.max(from, trace.edgesBefore(window.end)), (time, to) => {
		if (level === before && to === after) times.push(time);
		level = to;
	});
	return times;
}
