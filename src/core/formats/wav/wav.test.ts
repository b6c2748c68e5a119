import { describe, expect, test } from 'vitest';
import { failureOf as failure, listLines as lines, readInPieces as read } from '../../../../tests/unit/formats.js';

interface Written {
	tag?: number;
	bits?: number;
	rate?: number;
	channels?: number;
	extensible?: boolean;
	/** What the data chunk says of its length; left out: the truth. */
	says?: number;
	before?: Buffer;
}

const chunk = (name: string, body: Buffer, says = body.length) => {
	const head = Buffer.alloc(8);
	head.write(name, 'latin1');
	head.writeUInt32LE(says >>> 0, 4);
	return Buffer.concat([head, body, Buffer.alloc(body.length % 2)]);
};

function wav(body: Buffer, { tag = 1, bits = 16, rate = 48_000, channels = 1, extensible = false, says, before }: Written = {}): Buffer {
	const format = Buffer.alloc(extensible ? 40 : 16);
	format.writeUInt16LE(extensible ? 0xfffe : tag, 0);
	format.writeUInt16LE(channels, 2);
	format.writeUInt32LE(rate, 4);
	format.writeUInt16LE(bits, 14);
	if (extensible) format.writeUInt16LE(tag, 24);
	return Buffer.concat([
		Buffer.from('RIFF\0\0\0\0WAVE', 'latin1'),
		before ?? Buffer.alloc(0),
		chunk('fmt ', format),
		chunk('data', body, says)
	]);
}

/** Samples, low and high, as bytes. */
const LEVELS = [-0.5, -0.5, 0.5, 0.5, 0.5, -0.5];
const WANT = ['channel 1 0 1500:1 4500:0'];
const bytesOf = (size: number, write: (bytes: Buffer, value: number, at: number) => void, levels = LEVELS) => {
	const bytes = Buffer.alloc(size * levels.length);
	levels.forEach((value, i) => write(bytes, value, i * size));
	return bytes;
};
const sixteen = bytesOf(2, (b, v, at) => b.writeInt16LE(v * 32_768, at));

describe('wave files', () => {
	test.each<[string, Buffer]>([
		[
			'8 bits',
			wav(
				bytesOf(1, (b, v, at) => b.writeUInt8(128 + v * 128, at)),
				{ bits: 8 }
			)
		],
		['16 bits', wav(sixteen)],
		[
			'24 bits',
			wav(
				bytesOf(3, (b, v, at) => b.writeIntLE(v * 8_388_608, at, 3)),
				{ bits: 24 }
			)
		],
		[
			'32 bits',
			wav(
				bytesOf(4, (b, v, at) => b.writeInt32LE(v * 2 ** 31, at)),
				{ bits: 32 }
			)
		],
		[
			'floats',
			wav(
				bytesOf(4, (b, v, at) => b.writeFloatLE(v, at)),
				{ tag: 3, bits: 32 }
			)
		],
		[
			'long floats',
			wav(
				bytesOf(8, (b, v, at) => b.writeDoubleLE(v, at)),
				{ tag: 3, bits: 64 }
			)
		],
		['an extensible head', wav(sixteen, { extensible: true })],
		['other chunks before', wav(sixteen, { before: chunk('LIST', Buffer.from('odd')) })],
		['a length that is left open', wav(sixteen, { says: 0xffffffff })],
		['chunks behind', Buffer.concat([wav(sixteen), chunk('LIST', Buffer.from('INFO'))])]
	])('of %s are read, in any pieces', (_, file) => {
		for (const size of [1, 7, 1 << 20]) {
			const recording = read(file, size);
			expect(lines(recording)).toEqual(WANT);
			expect([recording.format, String(recording.unit), String(recording.resolution), recording.end, recording.notes]).toEqual([
				'wav',
				'1/48000000',
				'1/48000',
				5000,
				[]
			]);
			expect(recording.lines[0].slicing).toMatchObject({ low: -0.5, high: 0.5, threshold: 0 });
		}
	});

	test('channels are lines of their own', () => {
		const pairs = LEVELS.flatMap((value) => [value, -value]);
		const file = wav(
			bytesOf(2, (b, v, at) => b.writeInt16LE(v * 32_768, at), pairs),
			{ channels: 2 }
		);
		expect(lines(read(file, 3))).toEqual(['channel 1 0 1500:1 4500:0', 'channel 2 1 1500:0 4500:1']);
	});

	test('a file that ends before its head says so is read as far as it goes', () => {
		const recording = read(wav(sixteen, { says: 1000 }));
		expect([lines(recording), recording.notes]).toEqual([WANT, [{ code: 'cut-end' }]]);
	});

	test.each<[string, Buffer, string]>([
		['samples packed in another way', wav(sixteen, { tag: 2, bits: 4 }), 'wav-samples at 0/20'],
		['no rate', wav(sixteen, { rate: 0 }), 'wav-samples at 0/20'],
		['no channel', wav(sixteen, { channels: 0 }), 'wav-samples at 0/20'],
		['no format', Buffer.concat([Buffer.from('RIFF\0\0\0\0WAVE', 'latin1'), chunk('data', sixteen)]), 'wav-no-format at 0/12'],
		['no samples', wav(Buffer.alloc(2)), 'wav-no-samples at 0/46'],
		['a head alone', Buffer.from('RIFF\0\0\0\0WAVE', 'latin1'), 'wav-no-format at 0/12'],
		[
			'a format chunk of a gigabyte',
			Buffer.concat([Buffer.from('RIFF\0\0\0\0WAVE', 'latin1'), chunk('fmt ', Buffer.alloc(16), 1e9)]),
			'wav-format at 0/12'
		]
	])('with %s is refused', (_, file, want) => expect(failure(file)).toBe(want));
});
