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
	left.joinParts();
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

const PARTS = 256;

/** Deviations from a line, by planned time from its middle; and those of them that leave the budget first at some tilt. */
class Left {
	readonly middle: number;
	private readonly joined = new Set<number>();
	private readonly looked = new Set<number>();
	private readonly x: number[] = [];
	private readonly y: number[] = [];

	constructor(
		private readonly own: Points,
		private readonly line: Laying
	) {
		let sum = 0;
		for (let i = 0; i < own.count; i++) sum += own.x[i];
		this.middle = sum / own.count;
		for (const i of [0, own.count - 1]) this.add(i);
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
		for (const tilt of tilts) {
			if (this.looked.has(tilt)) continue;
			this.looked.add(tilt);
			for (const i of this.outermost(tilt)) this.add(i);
		}
		return this.joined.size > before;
	}

	private add(i: number): void {
		if (this.joined.has(i)) return;
		this.joined.add(i);
		const { own, line, middle } = this;
		this.x.push(own.x[i] - middle);
		this.y.push(own.y[i] - line.offset - line.ratio * own.x[i]);
	}

	/** Lets the outermost of each of many parts join: nearly all that matter are among them. */
	joinParts(): void {
		this.looked.add(0);
		const length = Math.ceil(this.own.count / PARTS);
		for (let from = 0; from < this.own.count; from += length) {
			for (const i of this.outermost(0, from, Math.min(this.own.count, from + length))) this.add(i);
		}
	}

	private outermost(tilt: number, from = 0, end = this.own.count): [number, number] {
		const { x, y } = this.own;
		const { offset, ratio } = this.line;
		const { middle } = this;
		let [low, high, lowest, highest] = [from, from, Infinity, -Infinity];
		const [slope, base] = [ratio + tilt, offset - tilt * middle];
		for (let i = from; i < end; i++) {
			const rest = y[i] - base - slope * x[i];
			if (rest < lowest) {
				lowest = rest;
				low = i;
			}
			if (rest > highest) {
				highest = rest;
				high = i;
			}
		}
		return [low, high];
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
