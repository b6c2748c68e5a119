import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { failureOf as failure, listLines as lines, readInPieces as read } from '../../../../tests/unit/formats.js';

const WANT = ['a 0 1000000:1 3000000:0', 'b 1 2000000:0'];

describe('CsvReader', () => {
	test.each([
		['commas', 'time (s),a,b\n0,0,1\n0.000001,1,1\n0.000002,1,0\n0.000003,0,0\n'],
		['semicolons and decimal commas', 'time (s);a;b\n0;0;1\n0,000001;1;1\n0,000002;1;0\n0,000003;0;0\n'],
		['tabs', 'time (s)\ta\tb\n0\t0\t1\n1e-6\t1\t1\n2e-6\t1\t0\n3e-6\t0\t0\n'],
		['blanks', 'time a b\n0 0 1\n1e-6  1  1\n2e-6 1 0\n3e-6 0 0\n'],
		['microseconds in the heading', 'Time [us],a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'],
		['units in a row of their own', 'Time,a,b\nus,V,V\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'],
		['quotes and blanks', '"Time (us)", "a", "b"\n0, 0, 1\n1, "1", 1\n2, 1, 0\n3, 0, "0"\n'],
		['separators within quotes', '"Time (us)","a (1,5 V)","b"\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'],
		['header lines before the names', 'Device,7\nPoints,4\n\nt (us),a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'],
		['a last empty cell in each row', 'time (us),a,b,\n0,0,1,\n1,1,1,\n2,1,0,\n3,0,0,\n'],
		['plus signs and capital exponents', 'time (s),a,b\n+0E0,0,1\n+1E-6,1,1\n+2E-06,1,0\n3.E-6,0,0\n'],
		['a byte order mark', '\uFEFFtime (us),a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n']
	])('reads %s', (_, text) => {
		for (const ending of ['\n', '\r\n'])
			for (const size of [1, 5, 1 << 20]) expect(lines(read(text.replaceAll('\n', ending), size))).toEqual(WANT);
	});

	test('without headings the first column is the time, in seconds, and that is noted', () => {
		const recording = read('0,0,1\n0.000001,1,1\n0.000002,1,0\n0.000003,0,0\n');
		expect(lines(recording).map((l) => l.replace(/^column \d/, (n) => ({ 'column 2': 'a', 'column 3': 'b' })[n]!))).toEqual(WANT);
		expect(recording.notes.map((n) => n.code)).toEqual(['no-names', 'time-assumed-seconds']);
	});

	test('an empty cell keeps the level before, x and nan are unknown', () => {
		const recording = read('time (ns),a,b\n0,0,1\n1,,\n2,1,x\n3\n4,0,nan\n5,0,1\n');
		expect(lines(recording)).toEqual(['a 0 2000:1 4000:0', 'b 1 2000:x 5000:1']);
		expect(recording.notes).toEqual([{ code: 'missing-cells', count: 4 }]);
	});

	test('samples are cut half-way with a tenth of the span to either side, and edges lie where the threshold was crossed', () => {
		// Levels 0 and 4: threshold 2, up beyond 2.4, down below 1.6. 1.7 does not count; 1 to 4 crosses 2 a third of the way, 3 to 0 as well.
		const recording = read('time (us),v (V)\n0,0\n1,0\n2,1\n3,4\n4,4\n5,1.7\n6,4\n7,3\n8,0\n9,0\n10,0\n');
		expect(lines(recording)).toEqual(['v 0 2333333:1 7333333:0']);
		expect(recording.lines[0].slicing).toMatchObject({ low: 0, high: 4, threshold: 2, hysteresis: 0.4 });
		// Fewer than 20 samples at a level say nothing of noise: a tenth of a sample.
		expect([recording.lines[0].step!.step, recording.lines[0].step!.raster].map(String)).toEqual(['1/10000000', '1/1000000']);
		expect(String(recording.resolution)).toBe('1/1000000');
	});

	test.each([
		// A level changes in every row: edges, known to their last digit, whatever lies between them.
		['edges in whole ns', 'time (ns),a\n0,0\n40,1\n100,0\n1000,1\n', '1/1000000000'],
		['edges of an even signal', 'time,a\n0.0000,0\n0.0050,1\n0.0100,0\n0.0150,1\n', '1/10000'],
		['edges with exponents', 'time,a\n0,0\n1.5e-3,1\n2.25e-2,0\n', '1/10000'],
		['edges finer than they are kept', 'time,a\n0,0\n0.00000000000125,1\n0.1,0\n', '1/1000000000000'],
		['edges of two lines, one a row', 'time (us),a,b\n0,0,0\n4,1,0\n9,1,1\n14,0,1\n', '1/1000000'],
		// The level stays for rows: samples.
		['even samples', 'time (us),a\n0,0\n4,0\n8,1\n12,1\n16,1\n', '1/250000'],
		['uneven rows', 'time (us),a\n0.0,0\n4.0,0\n9.0,1\n12.0,1\n16.0,1\n', '1/10000000'],
		['analogue samples that change in every row', 'time (us),a\n0,0.1\n4,0.2\n8,3.1\n12,3.2\n', '1/250000']
	])('the step of %s', (_, text, want) => expect(String(read(text).resolution)).toBe(want));

	test('columns of one name are told apart', () => {
		expect(read('time (us),a,a,a (2)\n0,0,0,0\n1,1,0,0\n').lines.map((l) => l.name)).toEqual(['a', 'a (2)', 'a (3)']);
	});

	test('a flat line has no known level, times below zero are fine, finer ones are rounded and counted', () => {
		const recording = read('time (s),v\n-2e-9,3.3\n-1.0004e-9,3.3\n0,3.3\n0.00000000000125,3.3\n');
		expect(lines(recording)).toEqual(['v x']);
		expect([recording.start, recording.notes.map((n) => n.code)]).toEqual([-2000, ['flat-line', 'rounded-times']]);
	});

	test('a last line that was cut is left out with a note', () => {
		const recording = read('time (us),a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n4,1');
		expect(lines(recording)).toEqual(WANT);
		expect(recording.notes).toEqual([{ code: 'cut-last-line', line: 6 }]);
	});

	test.each([
		['', 'empty at 0/0'],
		['   \n\n', 'empty at 1/0'],
		['\u0000\u0000\u0000', 'binary at 0/0'],
		['just some words\nand more of them\n', 'no-rows at 1/0'],
		['time,a\n0,0\n', 'no-rows at 3/11'],
		['time (us),a\n0,0\n1,1\n1,0\n', 'was read'],
		['time (us),a\n0,0\n1,1\n0.5,0\n2,1\n', 'time-back at 4/20'],
		['time (us),a\n0,0\n1,oops\n2,1\n3,0\n4,1\n5,0\n6,0\n7,0\n8,0\n9,0\n10,0\n11,0\n12,1\n', 'bad-cell at 3/18'],
		['time (us),a\n0,0\n9999999999999999,1\n2e16,0\n', 'time-range at 3/16'],
		['time (us),a\n0,0\n0.12345678901234567,1\n1.0000000000000000000001,0\n2,1\n', 'was read'],
		['\u0001\u0000\u0002\u0000', 'binary at 0/1'],
		['\u0000\u0000\u0000', 'binary at 0/0'],
		['time,a\n0,0\n1,\u0000\n', 'binary at 0/13']
	])('%j: %s', (text, want) => expect(failure(text)).toBe(want));

	test('a cell that is no number is refused with its line, byte and column', () => {
		const rows = Array.from({ length: 400 }, (_, i) => `${i},${i % 2}`);
		rows[300] = '300,oops';
		const text = `time (us),a\n${rows.join('\n')}\n`;
		const byte = text.indexOf('oops');
		expect(failure(text)).toBe(`bad-cell at 302/${byte}`);
		expect(() => read(text)).toThrow('{"cell":"oops","column":2,"name":"a"}');
		rows[300] = '300,1,1';
		expect(failure(`time (us),a\n${rows.join('\n')}\n`)).toContain('too-many-cells at 302');
	});

	test('levels written as rows come back, in any pieces (seed 31)', () => {
		const row = fc.tuple(fc.integer({ min: 1, max: 10 ** 9 }), fc.constantFrom(0, 1), fc.constantFrom(0, 1));
		fc.assert(
			fc.property(fc.array(row, { minLength: 3, maxLength: 60 }), fc.integer({ min: 1, max: 40 }), (rows, size) => {
				let time = 0;
				const stamped = rows.map(([step, a, b]) => [(time += step), a, b]);
				const text = `time (ps),a,b\n${stamped.map((r) => r.join(',')).join('\n')}\n`;
				const recording = read(text, size);
				for (const [column, line] of recording.lines.entries())
					for (const [at, ...levels] of stamped) expect(line.trace.levelAt(at)).toBe(levels[column]);
				expect([recording.start, recording.end]).toEqual([stamped[0][0], stamped.at(-1)![0]]);
			}),
			{ seed: 31 }
		);
	});

	test('the demo recordings: a noisy one of samples, and one of edges written in nanoseconds', () => {
		const scope = read(readFileSync('demo/recordings/heater-scope.csv'), 999);
		expect([scope.start, String(scope.resolution), scope.lines[0].name, scope.lines[0].edges]).toEqual([
			-4_000_000_000,
			'1/2500000',
			'Dew heater A',
			47
		]);
		const edges = read(readFileSync('demo/recordings/heater-wrong-duty.csv'));
		expect([String(edges.resolution), edges.lines[0].edges]).toEqual(['1/1000000000', 240]);
	});
});
