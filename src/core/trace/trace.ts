import { Rational, type Seconds } from '../exact/index.js';

/**
 * A trace: the level of one line over time, as its edges in typed-array chunks. Times are whole units of `unit`
 * seconds, safe integers, ascending. Levels: 0, 1, and 2 for unknown or undriven.
 *
 * A chunk holds an exact base time and offsets to it, of 32 bits where they fit; a table of the chunks' bounds is searched first, so
 * that a query touches one chunk, and a viewport full of edges never touches them all.
 */
export type Level = 0 | 1 | 2;

export type Offsets = Uint32Array | Float64Array;

export interface EdgeChunk {
	/** Time of the first edge. */
	base: number;
	/** Edge times minus base, ascending, each above the one before; offsets[0] = 0. */
	offsets: Offsets;
	/** Level from that edge on; each differs from the one before. */
	levels: Uint8Array;
	/** Shortest pulse that ends with an edge of this chunk; Infinity for none. */
	shortest: number;
}

export interface TraceMeta {
	/** Seconds of one time unit. */
	unit: Seconds;
	/** First and last moment that was recorded, both included, in units. */
	start: number;
	end: number;
	/** Level from start on. */
	initial: Level;
}

/**
 * Anything that tells its level over time: a recorded trace, or a planned wave that is never materialised. Edges are
 * numbered in time; a planned wave without beginning has negative numbers too.
 */
export interface LevelSource {
	/** Seconds of one time unit. */
	readonly unit: Seconds;
	/** Edges in all; left out: without end. */
	readonly count?: number;
	/** The number of the first edge at a time >= t. */
	edgesBefore(t: number): number;
	/** Level between edge number - 1 and that edge. */
	levelAfter(edges: number): Level;
	/** Time of the edge of that number. A recorded trace throws RangeError outside 0..count-1. */
	edgeTime(index: number): number;
}

export class Trace implements LevelSource {
	readonly count: number;
	/** Edges before each chunk, and the chunks' first and last times. */
	private readonly firstIndex: Float64Array;
	private readonly bases: Float64Array;

	/** Takes chunks as the builder or the store made them. Throws RangeError when they are out of order. */
	constructor(
		readonly meta: TraceMeta,
		readonly chunks: readonly EdgeChunk[]
	) {
		this.firstIndex = new Float64Array(chunks.length + 1);
		this.bases = new Float64Array(chunks.length);
		let before = -Infinity;
		chunks.forEach((chunk, i) => {
			const size = chunk.offsets.length;
			if (size === 0 || chunk.levels.length !== size) throw new RangeError(`chunk ${i}: ${size} times, ${chunk.levels.length} levels`);
			if (!Number.isSafeInteger(chunk.base) || chunk.base <= before)
				throw new RangeError(`chunk ${i}: starts at ${chunk.base}, after ${before}`);
			before = chunk.base + chunk.offsets[size - 1];
			this.bases[i] = chunk.base;
			this.firstIndex[i + 1] = this.firstIndex[i] + size;
		});
		this.count = this.firstIndex[chunks.length];
	}

	get unit(): Seconds {
		return this.meta.unit;
	}

	/** Shortest pulse in units, Infinity when there are fewer than two edges. */
	get shortestPulse(): number {
		return this.chunks.reduce((least, chunk) => Math.min(least, chunk.shortest), Infinity);
	}

	edgesBefore(t: number): number {
		const at = lowerBound(this.bases, this.bases.length, t) - 1;
		if (at < 0) return 0;
		const { base, offsets } = this.chunks[at];
		return this.firstIndex[at] + lowerBound(offsets, offsets.length, t - base);
	}

	levelAfter(edges: number): Level {
		if (edges === 0) return this.meta.initial;
		const [chunk, at] = this.locate(edges - 1);
		return chunk.levels[at] as Level;
	}

	edgeTime(index: number): number {
		const [chunk, at] = this.locate(index);
		return chunk.base + chunk.offsets[at];
	}

	/** Level in force at time t: an edge at t counts. */
	levelAt(t: number): Level {
		return this.levelAfter(this.edgesBefore(t + 1));
	}

	/** Calls `visit` with every edge of index from..to-1. */
	forEdges(from: number, to: number, visit: (time: number, level: Level) => void): void {
		let chunk = this.chunkOf(from);
		let index = from;
		while (index < to) {
			const { base, offsets, levels } = this.chunks[chunk];
			const first = this.firstIndex[chunk];
			const end = Math.min(to - first, offsets.length);
			for (let i = index - first; i < end; i++) visit(base + offsets[i], levels[i] as Level);
			index = first + end;
			chunk++;
		}
	}

	/** Calls `visit` with each chunk that holds edges of index from..to-1, and which of its own edges those are. */
	forRuns(from: number, to: number, visit: (chunk: EdgeChunk, first: number, end: number) => void): void {
		for (let index = from, chunk = this.chunkOf(from); index < to; chunk++) {
			const first = this.firstIndex[chunk];
			const end = Math.min(to - first, this.chunks[chunk].offsets.length);
			visit(this.chunks[chunk], index - first, end);
			index = first + end;
		}
	}

	/** Seconds of a time or a span in units, exact. */
	seconds(units: number): Seconds {
		return Rational.int(units).mul(this.meta.unit);
	}

	private chunkOf(index: number): number {
		return lowerBound(this.firstIndex, this.firstIndex.length, index + 1) - 1;
	}

	private locate(index: number): [EdgeChunk, number] {
		if (!(index >= 0 && index < this.count)) throw new RangeError(`edge ${index} of ${this.count}`);
		const chunk = this.chunkOf(index);
		return [this.chunks[chunk], index - this.firstIndex[chunk]];
	}
}

/** Number of values below `wanted` among the first `length` of an ascending column. */
export function lowerBound(values: ArrayLike<number>, length: number, wanted: number): number {
	let low = 0;
	let high = length;
	while (low < high) {
		const middle = (low + high) >>> 1;
		if (values[middle] < wanted) low = middle + 1;
		else high = middle;
	}
	return low;
}
