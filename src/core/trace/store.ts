import { packSteps, unpackSteps } from './deltas.js';
import type { EdgeChunk, Level, Offsets } from './trace.js';

/**
 * Chunks as bytes, little-endian, for the store and the wire. For each: the magic "NVE2", bytes of all (uint32), count (uint32), how levels
 * are kept (uint32), base (float64), shortest (float64, Infinity for none), then steps (deltas.ts), and levels where they do not take turns,
 * two bits each. Zero bytes up to a multiple of 8.
 */
const MAGIC = 0x3245_564e;
const HEAD = 32;
/** The magic of chunks as they were stored first: 32 bits an offset, a byte a level. */
const MAGIC_1 = 0x3145_564e;
const HEAD_1 = 24;
/** Levels that take turns: 0 or 1, the first of them. */
const [TURNS_0, TURNS_1, ANY] = [0, 1, 2];

export function packChunk(chunk: EdgeChunk): Uint8Array<ArrayBuffer> {
	const { levels, offsets } = chunk;
	const count = offsets.length;
	const steps = packSteps(offsets);
	const turns = takeTurns(levels);
	const size = rounded(HEAD + steps.length + (turns ? 0 : Math.ceil(count / 4)));
	const bytes = new Uint8Array(size);
	const view = new DataView(bytes.buffer);
	view.setUint32(0, MAGIC, true);
	view.setUint32(4, size, true);
	view.setUint32(8, count, true);
	view.setUint32(12, turns ? (levels[0] === 1 ? TURNS_1 : TURNS_0) : ANY, true);
	view.setFloat64(16, chunk.base, true);
	view.setFloat64(24, chunk.shortest, true);
	bytes.set(steps, HEAD);
	if (!turns) for (let i = 0; i < count; i++) bytes[HEAD + steps.length + (i >> 2)] |= levels[i] << (2 * (i & 3));
	return bytes;
}

/** Reads any number of packed chunks in a row. Throws RangeError, with the byte, on bytes that are none. */
export function unpackChunks(bytes: Uint8Array): EdgeChunk[] {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const chunks: EdgeChunk[] = [];
	for (let at = 0; at < bytes.length;) {
		if (bytes.length - at >= HEAD_1 && view.getUint32(at, true) === MAGIC_1) {
			const { chunk, size } = unpackFirst(bytes, view, at);
			chunks.push(chunk);
			at += size;
			continue;
		}
		if (bytes.length - at < HEAD || view.getUint32(at, true) !== MAGIC) throw new RangeError(`no edge chunk at byte ${at}`);
		const size = view.getUint32(at + 4, true);
		const count = view.getUint32(at + 8, true);
		// A count that the bytes cannot hold is not made room for.
		if (count === 0 || count > MOST || size < HEAD || size > bytes.length - at)
			throw new RangeError(`edge chunk at byte ${at}: ${count} edges do not fit`);
		const { offsets, end } = unpackSteps(bytes.subarray(0, at + size), at + HEAD, count);
		const kind = view.getUint32(at + 12, true);
		if (kind === ANY && end + Math.ceil(count / 4) > at + size) throw new RangeError(`edge chunk at byte ${at}: levels are missing`);
		const levels = new Uint8Array(count);
		if (kind === ANY) for (let i = 0; i < count; i++) levels[i] = (bytes[end + (i >> 2)] >> (2 * (i & 3))) & 3;
		else for (let i = 0; i < count; i++) levels[i] = (kind + i) & 1;
		chunks.push({ base: view.getFloat64(at + 16, true), shortest: view.getFloat64(at + 24, true), offsets: narrowed(offsets), levels });
		at += size;
	}
	return chunks;
}

function unpackFirst(bytes: Uint8Array, view: DataView, at: number): { chunk: EdgeChunk; size: number } {
	const count = view.getUint32(at + 20, true);
	const size = rounded(HEAD_1 + 5 * count);
	if (count === 0 || size > bytes.length - at) throw new RangeError(`edge chunk at byte ${at}: ${count} edges do not fit`);
	const offsets = Uint32Array.from({ length: count }, (_, i) => view.getUint32(at + HEAD_1 + 4 * i, true));
	const levels = Uint8Array.from(bytes.subarray(at + HEAD_1 + 4 * count, at + HEAD_1 + 5 * count));
	return { chunk: { base: view.getFloat64(at + 4, true), shortest: view.getFloat64(at + 12, true), offsets, levels }, size };
}

/** More edges than any chunk holds. */
const MOST = 1 << 20;

/** Offsets in 32 bits where they fit. */
export function narrowed(offsets: Float64Array): Offsets {
	return offsets[offsets.length - 1] > 0xffffffff ? offsets : new Uint32Array(offsets);
}

function takeTurns(levels: ArrayLike<number>): boolean {
	for (let i = 1; i < levels.length; i++) if (levels[i] + levels[i - 1] !== 1) return false;
	return (levels[0] as Level) < 2;
}

export function rounded(size: number): number {
	return 8 * Math.ceil(size / 8);
}
