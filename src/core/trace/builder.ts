import { gcdSafe } from '../exact/index.js';
import { Trace, type EdgeChunk, type Level, type Offsets, type TraceMeta } from './trace.js';

/** Edges a chunk holds at the most. */
export const CHUNK_EDGES = 16_384;
/** Largest offset of 32 bits; a chunk that spans more has long ones. */
const NARROW = 2 ** 32 - 1;

/**
 * Collects the edges of one line in ascending time and finishes into a read-only trace. The newest edge waits until a
 * later one comes: of several at one time the last level wins, and one that thereby changes nothing is gone.
 */
export class TraceBuilder {
	private readonly chunks: EdgeChunk[] = [];
	private readonly offsets = new Float64Array(CHUNK_EDGES);
	private readonly levels = new Uint8Array(CHUNK_EDGES);
	private used = 0;
	private base = 0;
	private shortest = Infinity;
	private before = 0;
	private lastKept = -Infinity;
	private kept: Level;
	private waitingAt = -Infinity;
	private waiting: Level;
	private finished = false;
	private least = Infinity;
	private grid = 0;

	/** `onChunk` takes each full chunk as it closes, for a store that streams; finish() then returns a trace without them. */
	constructor(
		readonly initial: Level,
		private readonly onChunk?: (chunk: EdgeChunk) => void
	) {
		this.kept = initial;
		this.waiting = initial;
	}

	/** Edges so far, the waiting one included. */
	get count(): number {
		return this.before + this.used + (this.waiting === this.kept ? 0 : 1);
	}

	/** Shortest pulse of the chunks closed so far; of all after finish. */
	get shortestPulse(): number {
		return this.least;
	}

	/** The coarsest raster on which all edges of the chunks closed so far lie, in units from the first of them; 0 while there are fewer than two. */
	get raster(): number {
		return this.grid;
	}

	/** Level after the newest edge. */
	get current(): Level {
		return this.waiting;
	}

	/** An edge to `level` at `time`; the same level again is no edge. Throws RangeError when time goes back or is no safe integer, and Error after finish. */
	add(time: number, level: Level): void {
		if (time > this.waitingAt) {
			if (level === this.waiting && !this.finished) return;
			if (!Number.isSafeInteger(time) || this.finished) this.refuse(time);
			if (this.waiting !== this.kept) this.keep();
			this.waitingAt = time;
		} else if (time < this.waitingAt || this.finished) this.refuse(time);
		this.waiting = level;
	}

	/** The trace over start..end, both included. */
	finish(meta: Omit<TraceMeta, 'initial'>): Trace {
		if (this.waiting !== this.kept) this.keep();
		this.close();
		this.finished = true;
		return new Trace({ ...meta, initial: this.initial }, this.chunks);
	}

	private refuse(time: number): never {
		if (this.finished) throw new Error('a finished trace takes no more edges');
		if (time < this.waitingAt) throw new RangeError(`an edge at ${time} comes after one at ${this.waitingAt}`);
		throw new RangeError(`time ${time} is no safe integer`);
	}

	private keep(): void {
		const time = this.waitingAt;
		if (this.used === CHUNK_EDGES || time - this.base > Number.MAX_SAFE_INTEGER) this.close();
		if (this.used === 0) this.base = time;
		this.offsets[this.used] = time - this.base;
		this.levels[this.used++] = this.waiting;
		if (time - this.lastKept < this.shortest) this.shortest = time - this.lastKept;
		this.lastKept = time;
		this.kept = this.waiting;
	}

	private narrowRaster({ base, offsets }: EdgeChunk): void {
		if (this.grid === 1) return;
		this.grid = gcdSafe(this.grid, base - (this.firstTime ??= base));
		for (let i = this.grid === 0 ? 1 : firstOff(offsets, this.grid); i < offsets.length && this.grid !== 1; i++)
			this.grid = gcdSafe(this.grid, offsets[i] - offsets[i - 1]);
	}
	private firstTime: number | undefined;

	private close(): void {
		if (this.used === 0) return;
		const { base, shortest, used } = this;
		const wide = this.offsets.subarray(0, used);
		const offsets = wide[used - 1] > NARROW ? wide.slice() : new Uint32Array(wide);
		const chunk: EdgeChunk = { base, shortest, offsets, levels: this.levels.slice(0, used) };
		this.narrowRaster(chunk);
		this.before += used;
		if (shortest < this.least) this.least = shortest;
		this.used = 0;
		this.shortest = Infinity;
		if (this.onChunk) this.onChunk(chunk);
		else this.chunks.push(chunk);
	}
}

/** The first offset that is no whole number of rasters behind the one before; their number when there is none. */
function firstOff(offsets: Offsets, raster: number): number {
	// A division by the reciprocal is rounded to the quotient where it is one, and the product is exact.
	const inverse = 1 / raster;
	for (let i = 1; i < offsets.length; i++) {
		const step = offsets[i] - offsets[i - 1];
		if (step !== Math.floor(step * inverse + 0.5) * raster) return i;
	}
	return offsets.length;
}
