import { describe, expect, test } from 'vitest';
import { failureOf as failure, listLines as lines, readInPieces as read } from '../../../../tests/unit/formats.js';

/** Two lines with edges at 1, 2 and 3 us, however they are written. */
const WANT = ['a 0 1000000:1 3000000:0', 'b 1 2000000:0'];
const ROWS = 'time (us),a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n';
const codes = (text: string | Uint8Array) => read(text).notes.map(({ code }) => code);

const utf16 = (text: string, big = false) => {
	const bytes = Buffer.from(`\ufeff${text}`, 'utf16le');
	return new Uint8Array(big ? bytes.swap16() : bytes);
};

describe('rows are read as they are written', () => {
	test.each<[string, string | Uint8Array]>([
		['with blank cells in the first rows', 'time (us),a,b\n0,0,1\n1,1,\n2,,0\n3,0,\n'],
		['with a row of blanks right at the top', 'time (us),a,b\n0,0,1\n0.5,,\n1,1,1\n2,1,0\n3,0,0\n'],
		['with upright strokes', 'time (us)|a|b\n0|0|1\n1|1|1\n2|1|0\n3|0|0\n'],
		['as a table that is drawn', '| time (us) | a | b |\n| 0 | 0 | 1 |\n| 1 | 1 | 1 |\n| 2 | 1 | 0 |\n| 3 | 0 | 0 |\n'],
		['aligned with blanks', '   time_us    a   b\n      0.0    0   1\n      1.0    1   1\n      2.0    1   0\n      3.0    0   0\n'],
		[
			'with quoted separators in a column of words',
			ROWS.replaceAll('\n', ',"x, y"\n')
				.replace('b,"x, y"', 'b,note')
				.replaceAll(/"x, y"/g, '"1"')
		],
		['with carriage returns alone', ROWS.replaceAll('\n', '\r')],
		['with a byte order mark and no headings', `\ufeff${ROWS.split('\n').slice(1).join('\n').replace(/^(\d)/gm, '0.00000$1')}`],
		['in UTF-16', utf16(ROWS)],
		['in UTF-16, big end first', utf16(ROWS, true)],
		['in UTF-16 without a mark', utf16(ROWS).subarray(2)],
		['with remarks among them', ROWS.replace('2,1,0', '# halfway\n2,1,0\n// more\n')],
		['with the headings once more', ROWS.replace('2,1,0', 'time (us),a,b\n2,1,0')],
		['with a footer', `${ROWS}\nEnd of record\nSaved by the dome,2026\n`],
		['with an index before the time', 'index,time (us),a,b\n0,0,0,1\n1,1,1,1\n2,2,1,0\n3,3,0,0\n'],
		['with an index that has no name', 'no,time (us),a,b\n1,0,0,1\n2,1,1,1\n3,2,1,0\n4,3,0,0\n'],
		['without an end to the last line', ROWS.trimEnd()],
		['with levels in words', 'time (us),a,b\n0,False,HIGH\n1,TRUE,high\n2,true,Low\n3,false,LOW\n'],
		['with levels switched on and off', 'time (us);a;b\n0;off;on\n1;on;on\n2;on;off\n3;off;off\n'],
		['with units in the cells', 'time,a,b\n0 us,0,1\n1 us,1,1\n2 us,1,0\n3us,0,0\n'],
		['with clock times', 'time,a,b\n10:00:00.000000,0,1\n10:00:00.000001,1,1\n10:00:00.000002,1,0\n10:00:00.000003,0,0\n'],
		['with numbers above the headings', 'Model,7\n3,4\nRate,2\ntime (us),a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'],
		['numbered at an interval that is told', 'Sample interval: 1e-6 s\nindex,a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n'],
		['numbered at a rate that is told', 'Sampling rate,1 MHz\nsample,a,b\n0,0,1\n1,1,1\n2,1,0\n3,0,0\n']
	])('%s', (_, text) => {
		for (const size of [1, 7, 1 << 20]) {
			const recording = read(text, size);
			const scale = recording.unit.toNumber() === 1e-9 ? 1000 : 1;
			const plain = lines(recording)
				.map((line) => line.replace(/^column \d/, (name) => ({ 'column 2': 'a', 'column 3': 'b' })[name]!))
				.filter((line) => /^[ab] /.test(line))
				.map((line) => line.replaceAll(/(\d+):/g, (_all, at: string) => `${(Number(at) - recording.start) * scale}:`));
			expect(plain).toEqual(WANT);
		}
	});

	test.each([
		['OVL', 'x'],
		['NA', 'x'],
		['inf', 'x'],
		['-Inf', 'x'],
		['n/a', 'x'],
		['---', 'x']
	])('an odd word near the top, %s, is an unknown level and keeps names and units', (word) => {
		const recording = read(`t (us),probe\n0,0\n1,${word}\n2,1\n3,0\n`);
		expect(lines(recording)).toEqual(['probe 0 1000000:x 2000000:1 3000000:0']);
		expect(recording.notes).toEqual([{ code: 'unknown-cells', count: 1, line: 3, name: word }]);
	});

	test('a word that is none is refused with its line, wherever it stands', () => {
		expect(failure('t (us),probe\n0,0\n1,frog\n2,1\n3,0\n')).toBe('bad-cell at 3/19');
		expect(failure('t (us),probe\n0,0\n1,1\nfrog,1\n3,0\n')).toBe('bad-time-cell at 4/21');
	});

	test('messages show letters as they are written', () => {
		expect(() => read('t (us),Drehfühler\n0,0\n1,größer\n2,1\n')).toThrow('größer');
		expect(() => read('t (us),Drehfühler\n0,0\n1,größer\n2,1\n')).toThrow('Drehfühler');
	});

	test('errors name the byte of the file, also behind a mark and in wide characters', () => {
		expect(failure('\ufefft (us),p\n0,0\n1,frog\n2,1\n')).toBe(`bad-cell at 3/${3 + 15}`);
		expect(failure(utf16('t (us),p\n0,0\n1,frog\n2,1\n'))).toBe(`bad-cell at 3/${2 + 2 * 15}`);
	});

	test('rows of one time: the later one counts', () => {
		const recording = read('time (us),a\n0,0\n1,1\n1,0\n2,1\n');
		expect(lines(recording)).toEqual(['a 0 2000000:1']);
		expect(recording.notes).toEqual([{ code: 'equal-times', count: 1 }]);
	});
});

describe('units of time', () => {
	test.each<[string, string]>([
		['time (msec)', '1000000000'],
		['time [milliseconds]', '1000000000'],
		['Time (mS)', '1000000000'],
		['t/ms', '1000000000'],
		['time_us', '1000000'],
		['Time (USEC)', '1000000'],
		['time (microseconds)', '1000000'],
		['seconds', '1000000000000'],
		['Time (sec.)', '1000000000000'],
		['ns', '1000']
	])('“%s”', (heading, ps) => {
		expect(lines(read(`${heading},a\n0,0\n1,1\n2,0\n`))[0]).toBe(`a 0 ${ps}:1 ${2 * Number(ps)}:0`);
	});
	test.each(['time (fortnights)', 'time (min)', 'Time [ticks]'])('“%s” is asked about', (heading) => {
		expect(read(`${heading},a\n0,0\n1,1\n2,0\n`).notes).toContainEqual({
			code: 'time-unit-unknown',
			name: /[([](.*)[)\]]/.exec(heading)![1]
		});
	});
	test('a second column called T2 is not the time', () => {
		expect(lines(read('time (us),T2\n0,0\n1,1\n2,0\n'))).toEqual(['T2 0 1000000:1 2000000:0']);
		expect(lines(read('T2,time (us)\n0,0\n1,1\n0,2\n'))).toEqual(['T2 0 1000000:1 2000000:0']);
	});
});

describe('separators', () => {
	test('that are also decimal signs part nothing where cells would make no sense', () => {
		const recording = read(
			`board 7;;\ntime (us);out;spare\n${Array.from({ length: 30 }, (_, i) => `${i},5;${i % 2};0,${i}`).join('\n')}\n`
		);
		expect(recording.lines.map(({ name, edges }) => [name, edges])).toEqual([
			['out', 29],
			['spare', 2]
		]);
		expect(recording.end).toBe(29_500_000);
	});
});

describe('numbers', () => {
	test.each([
		['grouped by commas', 'time (us);v\n1,000.5;0\n1,001.5;5\n1,002,003.5;0\n'],
		['grouped by points', 'time (us);v\n1.000,5;0\n1.001,5;5\n1.002.003,5;0\n'],
		['grouped by apostrophes', "time (us);v\n1'000.5;0\n1'001.5;5\n1'002'003.5;0\n"],
		['grouped within quotes', 'time (us),v\n"1,000.5",0\n"1,001.5",5\n"1,002,003.5",0\n'],
		['grouped by points, with exponents among them', 'time (us);v\n1.000,5;0\n1,0015e3;5\n1.002.003,5;0\n'],
		['with a Unicode minus', 'time (us);v\n1000.5;\u22120\n1001.5;5\n1002003.5;\u22120\n']
	])('%s', (_, text) => {
		const recording = read(text);
		expect([recording.start, recording.end]).toEqual([1_000_500_000, 1_002_003_500_000]);
	});
	test('a comma with three digits behind it could be either: it is taken one way for all of the file, and asked about', () => {
		expect(codes('time (ms);v\n1,000;0\n1,250;5\n1,500;0\n')).toContain('decimal-guessed');
		expect(read('time (ms);v\n1,000;0\n1,250;5\n1,500;0\n').end).toBe(1_500_000_000);
		expect(codes('time (ms);v\n1,000;0\n1,25;5\n1,500;0\n')).not.toContain('decimal-guessed');
	});
	test('values carry their own prefix', () => {
		expect(read('time (us),v\n0,100 mV\n1,3.3 V\n2,150mV\n').lines[0].slicing).toMatchObject({ low: 0.1 });
	});
});

describe('moments', () => {
	test.each([
		['an epoch in seconds', 'timestamp,a\n1700000000.123456789,0\n1700000000.123457789,1\n1700000000.123459789,0\n', 'a 0 1000:1 3000:0'],
		[
			'an epoch in nanoseconds',
			'timestamp (ns),a\n1700000000123456789,0\n1700000000123457789,1\n1700000000123459789,0\n',
			'a 0 1000:1 3000:0'
		],
		[
			'dates',
			'time,a\n2026-03-01T23:59:59.5Z,0\n2026-03-02T00:00:00.5Z,1\n2026-03-02 00:00:01.25+00:00,0\n',
			'a 0 1000000000:1 1750000000:0'
		],
		[
			'dates with slashes, the day first',
			'time,a\n28/02/2026 12:00:00,0\n28/02/2026 12:00:01,1\n01/03/2026 12:00:00,0\n',
			'a 0 1000000000:1 86400000000000:0'
		],
		['clock times over midnight', 'time,a\n23:59:59,0\n00:00:01,1\n00:00:02,0\n', 'a 0 2000000000:1 3000000000:0'],
		['half days', 'time,a\n11:59:59 AM,0\n12:00:00 PM,1\n12:00:01 PM,0\n', 'a 0 1000000000:1 2000000000:0'],
		['minutes and seconds', 'time,a\n01:02.5,0\n01:03.5,1\n01:04.5,0\n', 'a 0 1000000000:1 2000000000:0'],
		['many hours', 'time (s),a\n0,0\n10000,1\n20000.5,0\n', 'a 0 10000000000000:1 20000500000000:0']
	])('%s', (_, text, want) => {
		const recording = read(text);
		expect(String(recording.unit)).toBe('1/1000000000');
		const { start } = recording;
		expect(lines(recording)[0].replaceAll(/(\d+):/g, (_all, at: string) => `${Number(at) - start}:`)).toBe(want);
	});
	test('days and months that could be either way round are asked about', () => {
		expect(codes('time,a\n01/02/2026 12:00:00,0\n01/02/2026 12:00:01,1\n02/02/2026 12:00:00,0\n')).toContain('date-order-guessed');
		expect(codes('time,a\n01/02/2026 12:00:00,0\n01/02/2026 12:00:01,1\n01/02/2026 12:00:02,0\n')).not.toContain('date-order-guessed');
	});
});
