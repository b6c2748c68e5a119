import { joined } from './bytes.js';
import { FormatError } from './recording.js';

/** Every runtime has it; the core's own types know nothing beyond the language. */
interface Inflater {
	writable: { getWriter(): { write(bytes: Uint8Array): Promise<void>; close(): Promise<void>; abort(reason?: unknown): Promise<void> } };
	readable: { getReader(): { read(): Promise<{ done: boolean; value?: Uint8Array }>; cancel(): Promise<void> } };
}
const { DecompressionStream: Inflate } = globalThis as unknown as { DecompressionStream: new (format: 'gzip') => Inflater };

/**
 * The bytes of a file as they come, unpacked where they are gzip. What comes out is as long as its maker likes: whoever takes it sets the
 * limit. Throws FormatError where the packing is broken or cut off, with the byte of the packed file.
 */
export async function* unpacked(file: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
	const pieces = file[Symbol.asyncIterator]();
	try {
		let head: Uint8Array = new Uint8Array(0);
		while (head.length < 2) {
			const piece = await pieces.next();
			if (piece.done) break;
			head = joined(head, piece.value);
		}
		const rest = restOf(pieces);
		if (head[0] === 0x1f && head[1] === 0x8b) yield* inflated(head, rest);
		else {
			if (head.length > 0) yield head;
			yield* rest;
		}
	} finally {
		// Whoever stops early closes the file. A sender that keeps silent just then is not waited for.
		pieces.return?.()?.catch(() => undefined);
	}
}

/** What is left of an iteration, which stays open when its taker stops. */
async function* restOf(pieces: AsyncIterator<Uint8Array>): AsyncGenerator<Uint8Array> {
	for (;;) {
		const piece = await pieces.next();
		if (piece.done) return;
		yield piece.value;
	}
}

async function* inflated(head: Uint8Array, rest: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
	const { writable, readable } = new Inflate('gzip');
	const [writer, reader] = [writable.getWriter(), readable.getReader()];
	let taken = 0;
	let lost: { reason: unknown } | undefined;
	const put = async (piece: Uint8Array) => {
		await writer.write(piece);
		taken += piece.length;
	};
	const pump = async () => {
		await put(head);
		const pieces = rest[Symbol.asyncIterator]();
		for (;;) {
			const piece = await pieces.next().catch((reason: unknown) => {
				lost = { reason };
				throw reason;
			});
			if (piece.done) break;
			await put(piece.value);
		}
		await writer.close();
	};
	// What is wrong with the file is told by the end that is read.
	pump().catch((reason: unknown) => writer.abort(reason).catch(() => undefined));
	try {
		for (;;) {
			const { done, value } = await reader.read();
			if (done) return;
			yield value!;
		}
	} catch (error) {
		if (lost) throw lost.reason;
		if (error instanceof FormatError) throw error;
		throw new FormatError('bad-gzip', 0, taken);
	} finally {
		void reader.cancel().catch(() => undefined);
	}
}
