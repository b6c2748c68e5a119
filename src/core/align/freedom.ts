import type { Laying } from './lines.js';
import type { Points } from './points.js';

/**
 * How far the line may shift, and tilt, with every edge within the budget staying within it. `own`: the edges within the budget. Few edges are
 * ever the first to leave it: the answer for those that are known to is looked at on all, and those that would have left before join them.
 */
export function freedom(
	own: Points,
	line: Laying,
	{ ratio: range, budget }: { ratio: readonly [number, number]; budget: number }
): { offsetKnown: [number, number]; ratioKnown: [number, number] } {
	if (own.count === 0) return { offsetKnown: [line.offset, line.offset], ratioKnown: [...range] };
	const left = new Left(own, line);
	const ends: [number, number] = [range[0] - line.ratio, range[1] - line.ratio];
	for (;;) {
		const { tilts, shifts } = roomOf(left, ends, budget);
		if (left.join([...tilts, 0])) continue;
		return {
			offsetKnown: [line.offset + Math.min(0, ...shifts), line.offset + Math.max(0, ...shifts)],
			ratioKnown: [line.ratio + tilts[0], line.ratio + tilts[1]]
		};
	}
}

function roomOf(left: Left, ends: [number, number], budget: number): { tilts: [number, number]; shifts: number[] } {
	const room = (tilt: number) => left.room(tilt, budget);
	const gap = (tilt: number) => {
		const [low, high] = room(tilt);
		return high - low;
	};
	const top = peak(gap, ends);
	const edge = (end: number) => (gap(end) >= 0 ? end : zero(gap, top, end));
	const tilts: [number, number] = gap(top) >= 0 ? [edge(ends[0]), edge(ends[1])] : [top, top];
	const shifts = [...tilts, 0]
		.filter((tilt) => gap(tilt) >= -1e-9)
		.flatMap((tilt) => room(tilt).map((shift) => shift - tilt * left.middle));
	return { tilts, shifts };
}

/** Parts that the points are looked through in. */
const PARTS = 256;

/** A stretch of the points: its ends, and the extremes in it of time from the middle and of deviation. */
interface Part {
	from: number;
	end: number;
	x: [number, number];
	/** Numbers of the points of the least and the greatest deviation. */
	at: [number, number];
	deviation: [number, number];
}

/** Deviations from a line, by planned time from its middle; and those of them that leave the budget first at some tilt. */
class Left {
	readonly middle: number;
	private readonly joined = new Set<number>();
	private readonly x: number[] = [];
	private readonly y: number[] = [];
	private readonly parts: Part[] = [];

	constructor(
		private readonly own: Points,
		private readonly line: Laying
	) {
		let sum = 0;
		for (let i = 0; i < own.count; i++) sum += own.x[i];
		this.middle = sum / own.count;
		const length = Math.ceil(own.count / PARTS);
		for (let from = 0; from < own.count; from += length) this.parts.push(this.partOf(from, Math.min(own.count, from + length)));
		for (const { at } of this.parts) for (const i of at) this.add(i);
	}

	/** Shifts that keep those that have joined within the budget. */
	room(tilt: number, budget: number): [number, number] {
		let [low, high] = [-Infinity, Infinity];
		for (let k = 0; k < this.x.length; k++) {
			const rest = this.y[k] - tilt * this.x[k];
			low = Math.max(low, rest - budget);
			high = Math.min(high, rest + budget);
		}
		return [low, high];
	}

	/** Lets the outermost of all join, at each tilt; false when they all had. */
	join(tilts: readonly number[]): boolean {
		const before = this.joined.size;
		for (const tilt of tilts) for (const side of [-1, 1] as const) this.add(this.outermost(tilt, side));
		return this.joined.size > before;
	}

	private add(i: number): void {
		if (this.joined.has(i)) return;
		this.joined.add(i);
		const x = this.own.x[i] - this.middle;
		this.x.push(x);
		this.y.push(this.deviation(i, 0));
	}

	private deviation(i: number, tilt: number): number {
		const { own, line, middle } = this;
		return own.y[i] - line.offset - line.ratio * own.x[i] - tilt * (own.x[i] - middle);
	}

	/** The outermost point above (1) or below (-1) at a tilt. A part all of whose points must lie inside of it is not looked through. */
	private outermost(tilt: number, side: 1 | -1): number {
		const end = side > 0 ? 1 : 0;
		let [best, outermost] = [-1, -Infinity];
		const put = (i: number) => {
			const out = side * this.deviation(i, tilt);
			if (out > outermost) [best, outermost] = [i, out];
		};
		for (const { at } of this.parts) put(at[end]);
		for (const { x, deviation, from, end: until } of this.parts) {
			const bound = side * deviation[end] + Math.max(-side * tilt * x[0], -side * tilt * x[1]);
			if (bound > outermost) for (let i = from; i < until; i++) put(i);
		}
		return best;
	}

	private partOf(from: number, end: number): Part {
		const { x, y } = this.own;
		const { offset, ratio } = this.line;
		let [low, high, lowest, highest, left, right] = [from, from, Infinity, -Infinity, Infinity, -Infinity];
		for (let i = from; i < end; i++) {
			const rest = y[i] - offset - ratio * x[i];
			if (rest < lowest) {
				lowest = rest;
				low = i;
			}
			if (rest > highest) {
				highest = rest;
				high = i;
			}
			if (x[i] < left) left = x[i];
			if (x[i] > right) right = x[i];
		}
		return { from, end, x: [left - this.middle, right - this.middle], at: [low, high], deviation: [lowest, highest] };
	}
}

/** Where a concave function is greatest. */
function peak(of: (x: number) => number, [from, to]: readonly [number, number]): number {
	let [a, b] = [from, to];
	for (let i = 0; i < 100 && b - a > 0; i++) {
		const [c, d] = [a + (b - a) / 3, b - (b - a) / 3];
		if (of(c) < of(d)) a = c;
		else b = d;
	}
	return (a + b) / 2;
}

/** Where a function that is above zero at `inside` and below it at `outside` passes zero. */
function zero(of: (x: number) => number, inside: number, outside: number): number {
	let [a, b] = [inside, outside];
	for (let i = 0; i < 80; i++) {
		const c = (a + b) / 2;
		if (of(c) >= 0) a = c;
		else b = c;
	}
	return a;
}
