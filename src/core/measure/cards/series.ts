import type { Level, Trace } from '../../trace/index.js';
import type { Window } from '../pulse.js';

/** What a series' values are: seconds, shares of 1, degrees, hertz, plain numbers, the unit of an analogue line's values, or that a second. */
export type SeriesKind = 'time' | 'ratio' | 'degrees' | 'rate' | 'count' | 'level' | 'slew';

/**
 * The values of a measured quantity one after the other: `at` when each begins, `parts` what it is, both in units of the line; over
 * `wholes` where it is a share. A rate is one over its part. Levels and slews are no whole numbers.
 */
export interface Series {
	kind: SeriesKind;
	at: Float64Array;
	parts: Float64Array;
	wholes?: Float64Array;
}

/** What a card measures: one line, or one against another; `limit` in units of the line. */
export interface CardScene {
	trace: Trace;
	other?: Trace;
	window: Window;
	limit: number;
}

/** Gathers a series, growing as it comes. */
export class SeriesBuilder {
	private at = new Float64Array(1024);
	private parts = new Float64Array(1024);
	private wholes: Float64Array | undefined;
	private used = 0;

	constructor(private readonly kind: SeriesKind) {
		if (kind === 'ratio' || kind === 'degrees') this.wholes = new Float64Array(1024);
	}

	add(at: number, part: number, whole = 1): void {
		if (this.used === this.at.length) this.grow();
		this.at[this.used] = at;
		this.parts[this.used] = part;
		if (this.wholes) this.wholes[this.used] = whole;
		this.used++;
	}

	finish(): Series {
		const cut = (column: Float64Array) => column.slice(0, this.used);
		return { kind: this.kind, at: cut(this.at), parts: cut(this.parts), ...(this.wholes && { wholes: cut(this.wholes) }) };
	}

	private grow(): void {
		const twice = (column: Float64Array) => {
			const wide = new Float64Array(2 * column.length);
			wide.set(column);
			return wide;
		};
		this.at = twice(this.at);
		this.parts = twice(this.parts);
		if (this.wholes) this.wholes = twice(this.wholes);
	}
}

/** Calls `visit` with the edges in a window; `before`: the level that each ends. */
export function eachEdge(trace: Trace, window: Window, visit: (time: number, level: Level, before: Level) => void): void {
	const from = trace.edgesBefore(window.start);
	let before = trace.levelAfter(from);
	trace.forEdges(from, Math.max(from, trace.edgesBefore(window.end)), (time, level) => {
		visit(time, level, before);
		before = level;
	});
}

/** Calls `visit` with each whole period in a window, from rise to rise; one that touches a stretch of unknown level is none. */
export function eachPeriod(trace: Trace, window: Window, visit: (rise: number, fall: number, next: number) => void): void {
	let [rise, fall, known] = [0, 0, false];
	eachEdge(trace, window, (time, level, before) => {
		if (level === 1 && before === 0) {
			if (known) visit(rise, fall, time);
			[rise, known] = [time, true];
		} else if (level === 0 && before === 1) fall = time;
		else known = false;
	});
}

/** Calls `visit` with each pulse in a window, high or low, that both begins and ends there, between known levels. */
export function eachPulse(trace: Trace, window: Window, visit: (from: number, to: number, level: 0 | 1) => void): void {
	let from: number | undefined;
	eachEdge(trace, window, (time, level, before) => {
		if (from !== undefined && before !== 2 && level !== 2) visit(from, time, before);
		from = level === 2 || before === 2 ? undefined : time;
	});
}
