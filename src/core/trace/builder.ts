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
	/** Of the chunk at hand. */
	private readonly times = new Float64Array(CHUNK_EDGES);
	private readonly levels = new Uint8Array(CHUNK_EDGES);
	private used = 0;
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

	/** Edges at whole times that rise and are safe, whose levels take turns between 0 and 1, the first to `first`. Throws as `add` does. */
	addRun(times: Float64Array, first: Level): void {
		if (times.length === 0) return;
		this.add(times[0], first);
		for (let done = 1; done < times.length;) done = this.takeRun(times, done);
	}

	/** Takes as many of times[from..] as the chunk at hand can; the newest edge waits, as ever. Returns where the rest begins. */
	private takeRun(times: Float64Array, from: number): number {
		this.add(times[from], opposite(this.waiting));
		const count = Math.min(times.length - 1 - from, CHUNK_EDGES - this.used);
		const end = from + count;
		if (count === 0 || times[end] - (this.used > 0 ? this.times[0] : times[from]) > Number.MAX_SAFE_INTEGER) return from + 1;
		this.times.set(times.subarray(from, end), this.used);
		this.levels.set(TURNS.subarray(this.waiting, this.waiting + count), this.used);
		this.used += count;
		const last = (this.waiting + count - 1) % 2;
		this.kept = last as Level;
		this.waiting = opposite(this.kept);
		this.waitingAt = times[end];
		return end + 1;
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
		if (this.used === CHUNK_EDGES || (this.used > 0 && time - this.times[0] > Number.MAX_SAFE_INTEGER)) this.close();
		this.times[this.used] = time;
		this.levels[this.used++] = this.waiting;
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
		const { used, times } = this;
		if (used === 0) return;
		const [base, last] = [times[0], times[used - 1]];
		const offsets = last - base > NARROW ? wideOffsets(times, used) : narrowOffsets(times, used);
		const shortest = Math.min(base - this.lastKept, shortestStep(times, used));
		const chunk: EdgeChunk = { base, shortest, offsets, levels: this.levels.slice(0, used) };
		this.lastKept = last;
		this.narrowRaster(chunk);
		this.before += used;
		if (shortest < this.least) this.least = shortest;
		this.used = 0;
		if (this.onChunk) this.onChunk(chunk);
		else this.chunks.push(chunk);
	}
}

/** Levels that take turns, from either on. */
const TURNS = Uint8Array.from({ length: CHUNK_EDGES + 1 }, (_, i) => i % 2);

function opposite(level: Level): Level {
	return level === 1 ? 0 : 1;
}

/** Times as offsets to the first of them; one loop an array type, which keeps either fast. */
function narrowOffsets(times: Float64Array, count: number): Uint32Array {
	const offsets = new Uint32Array(count);
	const base = times[0];
	for (let i = 0; i < count; i++) offsets[i] = times[i] - base;
	return offsets;
}

function wideOffsets(times: Float64Array, count: number): Float64Array {
	const offsets = times.slice(0, count);
	const base = times[0];
	for (let i = 0; i < count; i++) offsets[i] -= base;
	return offsets;
}

function shortestStep(times: Float64Array, count: number): number {
	let shortest = Infinity;
	for (let i = 1; i < count; i++) {
		const step = times[i] - times[i - 1];
		if (step < shortest) shortest = step;
	}
	return shortest;
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
