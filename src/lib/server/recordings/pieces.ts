import { and, asc, eq, sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import { db } from '../store/db.js';
import { pieces, recordings } from '../store/tables.js';

/** Largest file, in bytes. */
export const LARGEST_UPLOAD = 8_000_000_000;
/** Bytes of a file that are stored in one row. */
const PIECE = 1 << 20;
/** Milliseconds between two signs of life of a file that comes in. */
const TOUCH_MS = 5000;

/** An upload over the limit. */
export class TooLarge extends Error {}

/** The recording was taken away while its file came in, or while it was read. */
export class Gone extends Error {}

/** Stores a file's bytes as they come; no connection is held while the sender is waited for. Throws TooLarge and Gone. */
export async function storePieces(recordingId: string, body: AsyncIterable<Uint8Array>): Promise<{ bytes: number; sha256: string }> {
	const hash = createHash('sha256');
	const buffer = Buffer.alloc(PIECE);
	let [bytes, used, number] = [0, 0, 0];
	let touched = performance.now();
	const put = async () => {
		// It is written when this ends: the buffer may be filled anew then.
		await db()
			.insert(pieces)
			.values({ recordingId, number: number++, bytes: buffer.subarray(0, used) });
		used = 0;
		if (performance.now() - touched < TOUCH_MS) return;
		touched = performance.now();
		await touch(recordingId, bytes);
	};
	for await (const piece of body) {
		bytes += piece.length;
		if (bytes > LARGEST_UPLOAD) throw new TooLarge();
		hash.update(piece);
		for (let at = 0; at < piece.length;) {
			const part = piece.subarray(at, at + PIECE - used);
			buffer.set(part, used);
			used += part.length;
			at += part.length;
			if (used === PIECE) await put();
		}
	}
	if (used > 0) await put();
	return { bytes, sha256: hash.digest('hex') };
}

async function touch(id: string, bytes: number): Promise<void> {
	const rows = await db()
		.update(recordings)
		.set({ arriving: sql`now()`, bytes })
		.where(eq(recordings.id, id))
		.returning({ id: recordings.id });
	if (rows.length === 0) throw new Gone();
}

/** The bytes of a stored file, a row at a time. */
export async function* storedPieces(recordingId: string): AsyncGenerator<Uint8Array, void> {
	for (let number = 0; ; number++) {
		const [row] = await db()
			.select({ bytes: pieces.bytes })
			.from(pieces)
			.where(and(eq(pieces.recordingId, recordingId), eq(pieces.number, number)));
		if (!row) return;
		yield row.bytes;
	}
}

/** Is the file of a recording here? */
export async function hasPieces(recordingId: string): Promise<boolean> {
	const rows = await db()
		.select({ number: pieces.number })
		.from(pieces)
		.where(eq(pieces.recordingId, recordingId))
		.orderBy(asc(pieces.number))
		.limit(1);
	return rows.length > 0;
}
