import { AnyReader, FormatError, type ParsedRecording, type ReadSettings } from '../../src/core/formats/index.js';

/** Helpers of the format tests. */

/**
 * Reads a file in pieces of `size` bytes, all through one buffer as a file is read: a reader that kept a piece would see
 * it change.
 */
export function readInPieces(file: string | Uint8Array, size = 1 << 20, settings?: ReadSettings): ParsedRecording {
	const reader = new AnyReader(undefined, settings);
	const all = typeof file === 'string' ? new TextEncoder().encode(file) : file;
	const piece = Buffer.alloc(Math.min(size, all.length));
	for (let at = 0; at < all.length; at += size) {
		const part = all.subarray(at, at + size);
		piece.set(part);
		reader.feed(piece.subarray(0, part.length));
	}
	return reader.end();
}

/** Lines as "name initial time:level ...". */
export function listLines(recording: ParsedRecording): string[] {
	return recording.lines.map(({ name, trace }) => {
		const edges: string[] = [];
		trace.forEdges(0, trace.count, (time, level) => edges.push(`${time}:${'01x'[level]}`));
		return [name, '01x'[trace.meta.initial], ...edges].join(' ');
	});
}

/** Why a file is refused: "code at line/byte". */
export function failureOf(file: string | Uint8Array): string {
	try {
		readInPieces(file);
	} catch (error) {
		if (error instanceof FormatError) return `${error.code} at ${error.line}/${error.byte}`;
		throw error;
	}
	return 'was read';
}
