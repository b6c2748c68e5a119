import type { Laying } from './lines.js';

/** Matched edges of one line: where the laying puts each, and where it was recorded. */
export interface Matched {
	count: number;
	places: Float64Array;
	edges: Float64Array;
}

/**
 * How far the line may shift, and tilt, with every edge within the budget staying within it. Few edges are ever the first to leave it: the
 * answer for those that are known to is looked at on all, and those that would have left before join them.
 */
export function freedom(
	lines: readonly Matched[],
	line: Laying,
	{ ratio: range, budget }: { ratio: readonly [number, number]; budget: number }
): { offsetKnown: [number, number]; ratioKnown: [number, number] } {
	const left = new Left(lines, line, budget);
	if (left.count === 0) return { offsetKnown: [line.offset, line.offset], ratioKnown: [...range] };
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

/** Parts that each line is looked through in. */
const PARTS = 256;

/** A stretch of one line: its ends, how many edges within the budget it has and the sum of their places, and the extremes of deviation. */
interface Part {
	line: Matched;
	from: number;
	end: number;
	count: number;
	sum: number;
	/** Numbers of the edges of the least and the greatest deviation, and those. */
	at: [number, number];
	deviation: [number, number];
}

/** Deviations from a line of the edges within the budget, by planned time from its middle; and those of them that leave it first at some tilt. */
class Left {
	/** Edges within the budget. */
	readonly count: number;
	readonly middle: number;
	private readonly joined = new Map<Matched, Set<number>>();
	private readonly x: number[] = [];
	private readonly y: number[] = [];
	private readonly parts: Part[];

	constructor(
		lines: readonly Matched[],
		private readonly laying: Laying,
		private readonly budget: number
	) {
		this.parts = lines.flatMap((line) => this.partsOf(line));
		this.count = this.parts.reduce((all, { count }) => all + count, 0);
		const sum = this.parts.reduce((all, part) => all + part.sum, 0);
		this.middle = (sum / Math.max(1, this.count) - laying.offset) / laying.ratio;
		for (const { line, at } of this.parts) for (const i of at) this.add(line, i);
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
		const before = this.x.length;
		for (const tilt of tilts) for (const side of [-1, 1] as const) this.joinOutermost(tilt, side);
		return this.x.length > before;
	}

	private add(line: Matched, i: number): void {
		const known = this.joined.get(line) ?? new Set();
		if (known.has(i)) return;
		this.joined.set(line, known.add(i));
		this.x.push(this.planned(line, i));
		this.y.push(line.edges[i] - line.places[i]);
	}

	/** Planned time from the middle. */
	private planned({ places }: Matched, i: number): number {
		return (places[i] - this.laying.offset) / this.laying.ratio - this.middle;
	}

	/** The outermost edge above (1) or below (-1) at a tilt. A part all of whose edges must lie inside of it is not looked through. */
	private joinOutermost(tilt: number, side: 1 | -1): void {
		const end = side > 0 ? 1 : 0;
		let outermost = -Infinity;
		let best: [Matched, number] | undefined;
		const put = (line: Matched, i: number) => {
			const off = line.edges[i] - line.places[i];
			const out = side * (off - tilt * this.planned(line, i));
			if (out > outermost && Math.abs(off) <= this.budget) [best, outermost] = [[line, i], out];
		};
		for (const { line, at } of this.parts) put(line, at[end]);
		for (const { line, deviation, from, end: until } of this.parts) {
			const [first, last] = [this.planned(line, from), this.planned(line, until - 1)];
			const bound = side * deviation[end] + Math.max(-side * tilt * first, -side * tilt * last);
			if (bound > outermost) for (let i = from; i < until; i++) put(line, i);
		}
		if (best) this.add(...best);
	}

	private partsOf(line: Matched): Part[] {
		const length = Math.ceil(line.count / PARTS);
		const parts: Part[] = [];
		for (let from = 0; from < line.count; from += length) {
			const part = this.partOf(line, from, Math.min(line.count, from + length));
			if (part.at[0] >= 0) parts.push(part);
		}
		return parts;
	}

	private partOf(line: Matched, from: number, end: number): Part {
		const { places, edges } = line;
		const { budget } = this;
		let [low, high, lowest, highest] = [-1, -1, Infinity, -Infinity];
		let [count, sum] = [0, 0];
		for (let i = from; i < end; i++) {
			const off = edges[i] - places[i];
			if (off > budget || off < -budget) continue;
			count++;
			sum += places[i];
			if (off < lowest) {
				lowest = off;
				low = i;
			}
			if (off > highest) {
				highest = off;
				high = i;
			}
		}
		return { line, from, end, count, sum, at: [low, high], deviation: [lowest, highest] };
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
