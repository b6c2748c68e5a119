import { gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import { FormatError, unpacked } from './index.js';

async function* inPieces(bytes: Uint8Array, size: number) {
	for (let at = 0; at < bytes.length; at += size) {
		await Promise.resolve();
		yield bytes.subarray(at, at + size);
	}
}

async function all(file: AsyncIterable<Uint8Array>): Promise<Buffer> {
	const pieces: Uint8Array[] = [];
	for await (const piece of unpacked(file)) pieces.push(piece);
	return Buffer.concat(pieces);
}

const TEXT = Buffer.from('time (us),a\n0,0\n1,1\n2,0\n'.repeat(4000));
const PACKED = gzipSync(TEXT);

describe('a packed file', () => {
	test.each([1, 3, 1000, 1 << 20])('comes out as it went in, in pieces of %i', async (size) => {
		expect(await all(inPieces(PACKED.subarray(0, size === 1 ? undefined : PACKED.length), size))).toEqual(TEXT);
	});
	test('that is not packed, or hardly there, passes as it is', async () => {
		expect(await all(inPieces(TEXT, 999))).toEqual(TEXT);
		expect(await all(inPieces(Buffer.of(0x1f), 1))).toEqual(Buffer.of(0x1f));
		expect(await all(inPieces(Buffer.alloc(0), 1))).toEqual(Buffer.alloc(0));
	});
	test.each([
		['cut off', PACKED.subarray(0, PACKED.length - 20)],
		['spoilt', Buffer.concat([PACKED.subarray(0, 60), Buffer.from('spoilt spoilt'), PACKED.subarray(80)])],
		['of a head alone', PACKED.subarray(0, 6)]
	])('%s is refused with the byte it was found at', async (_, bytes) => {
		const refused = await all(inPieces(bytes, 50)).catch((error: unknown) => error);
		expect(refused).toBeInstanceOf(FormatError);
		expect(refused).toMatchObject({ code: 'bad-gzip' });
		expect((refused as FormatError).byte).toBeLessThanOrEqual(bytes.length);
	});
	test('whose sender breaks off tells of that, and not of its packing', async () => {
		async function* broken() {
			yield PACKED.subarray(0, 100);
			await Promise.resolve();
			throw new Error('gone');
		}
		await expect(all(broken())).rejects.toThrow('gone');
	});
	test('is unpacked no further than it is wanted', async () => {
		const bomb = gzipSync(Buffer.alloc(50_000_000));
		let asked = 0;
		let closed = false;
		async function* counted() {
			try {
				for await (const piece of inPieces(bomb, 1000)) {
					asked += piece.length;
					yield piece;
				}
			} finally {
				closed = true;
			}
		}
		let bytes = 0;
		for await (const piece of unpacked(counted())) {
			bytes += piece.length;
			if (bytes > 1_000_000) break;
		}
		expect(asked).toBeLessThan(bomb.length);
		await expect.poll(() => closed).toBe(true);
	});
});
