import type { EdgeChunk } from './trace.js';

/**
 * Chunks as bytes, little-endian, for the store and the wire: for each chunk the magic "NVE1", base (float64),
 * shortest (float64, Infinity for none), count (uint32), count offsets (uint32), count levels (uint8),
 * zero bytes up to a multiple of 8.
 */
const MAGIC = 0x3145_564e;
const HEAD = 24;

export function packChunk(chunk: EdgeChunk): Uint8Array {
	const count = chunk.offsets.length;
	const bytes = new Uint8Array(packedSize(count));
	const view = new DataView(bytes.buffer);
	view.setUint32(0, MAGIC, true);
	view.setFloat64(4, chunk.base, true);
	view.setFloat64(12, chunk.shortest, true);
	view.setUint32(20, count, true);
	for (let i = 0; i < count; i++) view.setUint32(HEAD + 4 * i, chunk.offsets[i], true);
	bytes.set(chunk.levels, HEAD + 4 * count);
	return bytes;
}

/** Reads any number of packed chunks in a row. Throws RangeError, with the byte, on bytes that are none. */
export function unpackChunks(bytes: Uint8Array): EdgeChunk[] {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	const chunks: EdgeChunk[] = [];
	for (let at = 0; at < bytes.length;) {
		if (bytes.length - at < HEAD || view.getUint32(at, true) !== MAGIC) throw new RangeError(`no edge chunk at byte ${at}`);
		const count = view.getUint32(at + 20, true);
		const size = packedSize(count);
		if (count === 0 || size > bytes.length - at) throw new RangeError(`edge chunk at byte ${at}: ${count} edges do not fit`);
		const offsets = new Uint32Array(count);
		for (let i = 0; i < count; i++) offsets[i] = view.getUint32(at + HEAD + 4 * i, true);
		const levels = Uint8Array.from(bytes.subarray(at + HEAD + 4 * count, at + HEAD + 5 * count));
		chunks.push({ base: view.getFloat64(at + 4, true), shortest: view.getFloat64(at + 12, true), offsets, levels });
		at += size;
	}
	return chunks;
}

function packedSize(count: number): number {
	return 8 * Math.ceil((HEAD + 5 * count) / 8);
}
