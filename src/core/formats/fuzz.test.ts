import { readFileSync, readdirSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { AnyReader, FormatError } from './index.js';

/** `npm run fuzz` asks for a million cases; a short run stands in `./test`. */
const CASES = Number(process.env.FUZZ_CASES ?? 3000);
const SEED = Number(process.env.FUZZ_SEED ?? 14);

const folder = 'demo/recordings';
const REAL = readdirSync(folder).map((name) => readFileSync(`${folder}/${name}`).subarray(0, 3000));
const WRITTEN = [
	'time (us),a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n',
	'| time (us) | a |\n| 0 | 0 |\n| 1 | 1 |\n| 2 | 0 |\n',
	'time;v\n1.000,5;0\n1.001,5;5\n1.002.003,5;0\n',
	'time,a\n2026-03-01T23:59:59.5Z,0\n2026-03-02T00:00:00.5Z,1\n2026-03-02 00:00:01.25+00:00,0\n',
	'timestamp,a\n1700000000.123456789,0\n1700000000.123457789,1\n1700000000.123459789,0\n',
	'Sampling rate,1 MHz\nsample,a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'
].map((text) => Buffer.from(text));
/** Words that mean something to one reader or another. */
const WORDS = [
	'\n',
	'\r',
	',',
	';',
	'"',
	'|',
	'\t',
	'\0',
	'$end',
	'$var',
	'#',
	'b101 ',
	'r1e400 ',
	'-',
	'\u2212',
	'OVL',
	'1e999',
	'9'.repeat(30),
	':',
	'/',
	'\ufeff',
	'time',
	'[',
	'\xff'
];

const mutation = fc.record({
	at: fc.nat(3000),
	drop: fc.integer({ min: 0, max: 40 }),
	put: fc.oneof(fc.constantFrom(...WORDS), fc.string({ unit: 'binary', maxLength: 6 }))
});

function mutated(file: Buffer, changes: { at: number; drop: number; put: string }[]): Buffer {
	return changes.reduce((bytes, { at, drop, put }) => {
		const place = at % (bytes.length + 1);
		return Buffer.concat([bytes.subarray(0, place), Buffer.from(put), bytes.subarray(place + drop)]);
	}, file);
}

describe(`files that were spoilt (${CASES} cases, seed ${SEED})`, () => {
	test('are read, or refused with the place; in any pieces alike', () => {
		fc.assert(
			fc.property(
				fc.constantFrom(...REAL, ...WRITTEN),
				fc.array(mutation, { maxLength: 6 }),
				fc.integer({ min: 1, max: 900 }),
				(file, changes, size) => {
					const bytes = mutated(file, changes);
					const outcome = (piece: number) => {
						try {
							const reader = new AnyReader();
							for (let at = 0; at < bytes.length; at += piece) reader.feed(bytes.subarray(at, at + piece));
							const { lines, start, end, resolution } = reader.end();
							expect(resolution.sign).toBe(1);
							expect(end).toBeGreaterThanOrEqual(start);
							return lines.map(({ name, edges }) => `${name} ${edges}`).join('\n');
						} catch (error) {
							if (!(error instanceof FormatError)) throw error;
							expect(error.byte).toBeGreaterThanOrEqual(0);
							expect(error.byte).toBeLessThanOrEqual(bytes.length);
							return `${error.code} ${error.line} ${error.byte}`;
						}
					};
					expect(outcome(size)).toBe(outcome(1 << 20));
				}
			),
			{ seed: SEED, numRuns: CASES }
		);
	});
});
