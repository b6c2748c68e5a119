import { Rational, type Seconds } from '../exact/index.js';
import { kernels } from '../kernels/index.js';
import type { EdgeChunk, Level, Offsets, Trace } from '../trace/index.js';
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
 * Measures a line's edges as they come. Whole periods only: from rise to rise, both inside the window. A rise is an edge from 0 to 1; a
 * stretch of unknown level ends the period it falls in without counting it.
 */
export class PulseMeter {
	private readonly period = new IntegerSum();
	private readonly high = new IntegerSum();
	private readonly low = new IntegerSum();
	private readonly duty = new FractionSum();
	private rises = 0;
	private edges = 0;
	private stretches = 0;
	private rise = -1;
	private fall = -1;
	private known = false;
	/** The period before ended at the rise at hand. */
	private joined = false;
	private level: Level;

	/** `begins`: the level with which the window begins. */
	constructor(private readonly begins: Level) {
		this.level = begins;
	}

	/** The next edge inside the window. */
	add(time: number, to: Level): void {
		this.edges++;
		if (to === 1 && this.level === 0) {
			this.rises++;
			if (this.known) {
				const { rise, fall } = this;
				this.period.add(time - rise);
				this.high.add(fall - rise);
				this.low.add(time - fall);
				this.duty.add(fall - rise, time - rise);
				if (!this.joined) this.stretches++;
			}
			this.joined = this.known;
			this.rise = time;
			this.known = true;
		} else if (to === 0 && this.level === 1) this.fall = time;
		else this.known = false;
		this.level = to;
	}

	/**
	 * Edges first..end-1 of a chunk: where levels take turns, whole periods go through one loop over plain numbers.
	 */
	addRun({ base, offsets, levels }: EdgeChunk, first: number, end: number): void {
		let i = first;
		while (i < end) {
			// Up to a rise that ends a known period, edge by edge.
			while (i < end && !(this.known && this.joined && this.level === 1 && this.fall < this.rise)) {
				this.add(base + offsets[i], levels[i] as Level);
				i++;
			}
			const whole = this.wholePeriods(levels, i, end);
			if (whole > 0) this.addPeriods(base, offsets, i, whole);
			i += 2 * whole;
			if (i < end) {
				this.add(base + offsets[i], levels[i] as Level);
				i++;
			}
		}
	}

	/** How often a fall and a rise follow each other from edge i on. */
	private wholePeriods(levels: Uint8Array, i: number, end: number): number {
		const { code, levelColumn } = kernels();
		let found = 0;
		// Looked at in windows that grow, so that levels that seldom take turns are not carried over again and again.
		for (let window = 64; ; window = Math.min(8 * window, levelColumn.length / 2)) {
			const most = Math.min((end - i - 2 * found) >> 1, window);
			levelColumn.set(levels.subarray(i + 2 * found, i + 2 * (found + most)));
			const here = code.turns(most);
			found += here;
			if (here < window) return found;
		}
	}

	/** Periods that each begin at the rise before and end with a fall and a rise. */
	private addPeriods(base: number, offsets: Offsets, from: number, count: number): void {
		const { code, input32, input64, periods, highs, summed } = kernels();
		const wide = offsets instanceof Float64Array;
		const columns = [this.period, this.high, this.low];
		let rise = this.rise - base;
		for (let done = 0; done < count;) {
			const most = Math.min(count - done, periods.length);
			const [start, end] = [from + 2 * done, from + 2 * (done + most)];
			if (wide) input64.set(offsets.subarray(start, end));
			else input32.set(offsets.subarray(start, end));
			const [fall, next] = [offsets[start], offsets[start + 1]];
			[next - rise, fall - rise, next - fall].forEach((first, i) => columns[i].begin(first));
			for (let taken = 0; taken < most;) {
				columns.forEach((column, i) => column.save(summed, 5 * i));
				const upTo = code.periods(taken, most, wide ? 1 : 0, rise, this.period.first, this.high.first, this.low.first);
				columns.forEach((column, i) => column.load(summed, 5 * i, upTo - taken));
				rise = offsets[start + 2 * upTo - 1];
				taken = upTo;
			}
			this.duty.addColumns(highs.subarray(0, most), periods.subarray(0, most));
			done += most;
		}
		this.rises += count;
		this.edges += 2 * count;
		this.rise = rise + base;
		this.fall = offsets[from + 2 * count - 2] + base;
	}

	result(unit: Seconds): PulseMeasures {
		const period = this.period.result(unit);
		return {
			period,
			frequency: period && inverted(period),
			high: this.high.result(unit),
			low: this.low.result(unit),
			duty: this.duty.result(Rational.one),
			stretches: this.stretches,
			rises: this.rises,
			edges: this.edges,
			level: this.begins
		};
	}
}

/** The same of a window of a trace. */
export function measurePulses(trace: Trace, window: Window): PulseMeasures {
	const from = trace.edgesBefore(window.start);
	const meter = new PulseMeter(trace.levelAfter(from));
	trace.forRuns(from, Math.max(from, trace.edgesBefore(window.end)), (chunk, first, end) => meter.addRun(chunk, first, end));
	return meter.result(trace.unit);
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
