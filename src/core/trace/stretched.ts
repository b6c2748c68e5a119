import type { Seconds } from '../exact/index.js';
import { lowerBound, type Level, type LevelSource } from './trace.js';

/** A stretch that repeats: the edges of index `first` to `first + count` (excluded) come again `times` times, each `period` later. */
export interface Repeat {
	first: number;
	count: number;
	/** In units. */
	period: number;
	times: number;
	/** Where the first repetition begins. */
	from: number;
}

/** A stretched trace as plain data. */
export interface StretchedColumns {
	initial: Level;
	times: Float64Array;
	repeats: Repeat[];
}

/**
 * A two-level trace whose steady stretches are kept as their description: the edges of one period and how often it
 * comes again. Each edge turns the level. Hours of it cost no more than that; every query is two searches.
 */
export class StretchedTrace implements LevelSource {
	/** Parts in order of time: plain runs of stored edges, and repeats. */
	private readonly starts: number[] = [];
	private readonly firsts: number[] = [];
	private readonly parts: ({ kind: 'run'; first: number } | ({ kind: 'repeat' } & Repeat))[] = [];
	/** Edges in all. */
	readonly count: number;

	/**
	 * `times`: the stored edges, ascending; `repeats` in order, each after the edges it repeats and before those that are
	 * stored behind it. Times are cycles of `unit`.
	 */
	constructor(
		readonly unit: Seconds,
		readonly initial: Level,
		private readonly times: Float64Array,
		private readonly repeats: readonly Repeat[]
	) {
		let stored = 0;
		let total = 0;
		const add = (start: number, part: (typeof this.parts)[number], edges: number) => {
			this.starts.push(start);
			this.firsts.push(total);
			this.parts.push(part);
			total += edges;
		};
		for (const repeat of repeats) {
			const end = repeat.first + repeat.count;
			if (end > stored) add(stored === 0 ? -Infinity : times[stored], { kind: 'run', first: stored }, end - stored);
			stored = end;
			if (repeat.count > 0) add(repeat.from, { kind: 'repeat', ...repeat }, repeat.count * repeat.times);
		}
		if (times.length > stored || this.parts.length === 0)
			add(stored === 0 ? -Infinity : times[stored], { kind: 'run', first: stored }, times.length - stored);
		this.count = total;
	}

	/** Itself as plain data, as the constructor takes it. */
	get columns(): StretchedColumns {
		return { initial: this.initial, times: this.times, repeats: [...this.repeats] };
	}

	edgesBefore(t: number): number {
		const at = Math.max(0, lowerBound(this.starts, this.starts.length, t) - 1);
		const part = this.parts[at];
		const before = this.firsts[at];
		const most = (at + 1 < this.firsts.length ? this.firsts[at + 1] : this.count) - before;
		if (part.kind === 'run') {
			const here = lowerBound(this.times, Math.min(this.times.length, part.first + most), t);
			return before + Math.max(0, here - part.first);
		}
		const turns = Math.max(0, Math.floor((t - part.from) / part.period));
		if (turns >= part.times) return before + most;
		const rest = t - (turns + 1) * part.period;
		let inside = 0;
		while (inside < part.count && this.times[part.first + inside] < rest) inside++;
		return before + Math.min(most, turns * part.count + inside);
	}

	levelAfter(edges: number): Level {
		return (edges % 2 === 0 ? this.initial : 1 - this.initial) as Level;
	}

	edgeTime(index: number): number {
		const { stored, shift } = this.storedAt(index);
		return this.times[stored] + shift;
	}

	/** Which stored edge an edge repeats, and how much later it comes. Throws RangeError outside 0..count-1. */
	storedAt(index: number): { stored: number; shift: number } {
		if (!(index >= 0 && index < this.count)) throw new RangeError(`edge ${index} of ${this.count}`);
		const at = Math.max(0, lowerBound(this.firsts, this.firsts.length, index + 1) - 1);
		const part = this.parts[at];
		const inside = index - this.firsts[at];
		if (part.kind === 'run') return { stored: part.first + inside, shift: 0 };
		const turn = Math.floor(inside / part.count);
		return { stored: part.first + (inside - turn * part.count), shift: (turn + 1) * part.period };
	}

	/** Writes the times of the edges of index from..to (excluded) into a column; returns it. */
	times64(from: number, to: number, out = new Float64Array(to - from)): Float64Array {
		let index = from;
		let written = 0;
		while (index < to) {
			const at = Math.max(0, lowerBound(this.firsts, this.firsts.length, index + 1) - 1);
			const part = this.parts[at];
			const end = Math.min(to, at + 1 < this.firsts.length ? this.firsts[at + 1] : this.count);
			const inside = index - this.firsts[at];
			if (part.kind === 'run') {
				for (let i = inside; i < inside + end - index; i++) out[written++] = this.times[part.first + i];
			} else {
				let k = inside % part.count;
				let shift = (Math.floor(inside / part.count) + 1) * part.period;
				for (let i = index; i < end; i++) {
					out[written++] = this.times[part.first + k] + shift;
					if (++k === part.count) {
						k = 0;
						shift += part.period;
					}
				}
			}
			index = end;
		}
		return out;
	}
}
