import { packSteps, unpackSteps } from './deltas.js';
import { narrowed, rounded } from './store.js';

/** Samples a block holds at the most, and those that share a pair of bounds. */
export const BLOCK_SAMPLES = 16_384;
export const BOUND_SAMPLES = 256;

/** Samples of an analogue line in a row: times in whole units, rising or equal, and values; NaN where there is none. */
export interface SampleBlock {
	times: Float64Array;
	values: Float32Array;
}

/** A block of samples `step` units apart, the first at `first`: their times are written out for who asks. */
export class EvenBlock implements SampleBlock {
	constructor(
		private readonly first: number,
		private readonly step: number,
		readonly values: Float32Array
	) {}

	get times(): Float64Array {
		const times = new Float64Array(this.values.length);
		for (let i = 0; i < times.length; i++) times[i] = this.first + i * this.step;
		return times;
	}
}

/** Least and greatest of every 256 samples of a block, least first; NaN where none has a value. */
export function sampleBounds({ values }: SampleBlock): Float32Array {
	const bounds = new Float32Array(2 * Math.ceil(values.length / BOUND_SAMPLES)).fill(NaN);
	for (let i = 0; i < values.length; i++) widen(bounds, Math.floor(i / BOUND_SAMPLES), values[i], values[i]);
	return bounds;
}

/**
 * Blocks as bytes, little-endian. For each: the magic "NVS1", bytes of all (uint32), count (uint32), zero, the first time (float64), steps
 * (deltas.ts), zero bytes up to a multiple of 8, values (float32), zero bytes up to a multiple of 8.
 */
const MAGIC = 0x3153_564e;
const HEAD = 24;

export function packSamples({ times, values }: SampleBlock): Uint8Array<ArrayBuffer> {
	const count = times.length;
	const steps = packSteps(narrowed(times.map((time) => time - times[0])));
	const at = rounded(HEAD + steps.length);
	const bytes = new Uint8Array(rounded(at + 4 * count));
	const view = new DataView(bytes.buffer);
	view.setUint32(0, MAGIC, true);
	view.setUint32(4, bytes.length, true);
	view.setUint32(8, count, true);
	view.setFloat64(16, times[0], true);
	bytes.set(steps, HEAD);
	for (let i = 0; i < count; i++) view.setFloat32(at + 4 * i, values[i], true);
	return bytes;
}

/** Reads any number of packed blocks in a row. Throws RangeError, with the byte, on bytes that are none. */
export function unpackSamples(bytes: Uint8Array): SampleBlock[] {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const blocks: SampleBlock[] = [];
	for (let at = 0; at < bytes.length;) {
		if (bytes.length - at < HEAD || view.getUint32(at, true) !== MAGIC) throw new RangeError(`no block of samples at byte ${at}`);
		const size = view.getUint32(at + 4, true);
		const count = view.getUint32(at + 8, true);
		if (count === 0 || count > BLOCK_SAMPLES || size < HEAD + 4 * count || size > bytes.length - at)
			throw new RangeError(`block of samples at byte ${at}: ${count} do not fit`);
		const first = view.getFloat64(at + 16, true);
		const { offsets, end } = unpackSteps(bytes.subarray(0, at + size), at + HEAD, count);
		const from = at + rounded(end - at);
		if (from + 4 * count > at + size) throw new RangeError(`block of samples at byte ${at}: values are missing`);
		const values = new Float32Array(count);
		for (let i = 0; i < count; i++) values[i] = view.getFloat32(from + 4 * i, true);
		blocks.push({ times: offsets.map((offset) => first + offset), values });
		at += size;
	}
	return blocks;
}

/** What a line of samples comes to in the columns of a window: least and greatest in each, NaN where there is none. */
export class SampleColumns {
	readonly bounds: Float32Array;

	/** Columns of `width` units from `start` on. */
	constructor(
		private readonly start: number,
		private readonly width: number,
		private readonly count: number
	) {
		this.bounds = new Float32Array(2 * count).fill(NaN);
	}

	/** A stretch of which the bounds are known. */
	stretch(from: number, to: number, least: number, most: number): void {
		const [a, b] = [from, to].map((time) => Math.floor((time - this.start) / this.width));
		for (let i = Math.max(0, a); i <= Math.min(this.count - 1, b); i++) widen(this.bounds, i, least, most);
	}

	/** Samples, with the straight lines between them. */
	add({ times, values }: SampleBlock): void {
		for (let i = 0; i < times.length; i++) {
			const x = (times[i] - this.start) / this.width;
			const at = Math.floor(x);
			if (at >= 0 && at < this.count) widen(this.bounds, at, values[i], values[i]);
			if (i === 0) continue;
			const before = (times[i - 1] - this.start) / this.width;
			const [a, b] = [Math.max(0, Math.floor(before)), Math.min(this.count - 1, at)];
			const slope = (values[i] - values[i - 1]) / (x - before);
			for (let column = a; column < b; column++) {
				const between = values[i - 1] + slope * (column + 1 - before);
				widen(this.bounds, column, between, between);
				widen(this.bounds, column + 1, between, between);
			}
		}
	}
}

function widen(bounds: Float32Array, i: number, least: number, most: number): void {
	if (least !== least) return;
	if (!(bounds[2 * i] <= least)) bounds[2 * i] = least;
	if (!(bounds[2 * i + 1] >= most)) bounds[2 * i + 1] = most;
}
