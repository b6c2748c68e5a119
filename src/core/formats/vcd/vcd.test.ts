import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { AnyReader } from '../index.js';
import { failureOf as failure, listLines as lines, readInPieces as read } from '../../../../tests/unit/formats.js';

const bytes = (text: string) => new TextEncoder().encode(text);

const HEAD =
	'$timescale 1 ns $end\n$scope module top $end\n$var wire 1 ! a $end\n$var wire 1 " b $end\n$upscope $end\n$enddefinitions $end\n';

describe('VcdReader', () => {
	test('reads levels, what stood first, and what was unknown until it was heard of', () => {
		const recording = read(`${HEAD}#5\n$dumpvars\n1!\n$end\n#10\n0!\n#12\n1"\n#20\n`);
		expect(lines(recording)).toEqual(['a 1 10:0', 'b x 12:1']);
		expect([recording.start, recording.end, String(recording.unit), String(recording.resolution)]).toEqual([
			5,
			20,
			'1/1000000000',
			'1/1000000000'
		]);
	});

	test.each([1, 2, 3, 7, 64])('gives the same in pieces of %d bytes, with any line ending', (size) => {
		const text = `${HEAD}#0\n1!\n0"\n#10\n0!\n1"\n#20\nx!\n#25\nz"\n#30\n1!\n`;
		const want = lines(read(text));
		expect(want).toEqual(['a 1 10:0 20:x 30:1', 'b 0 10:1 25:x']);
		expect(lines(read(text, size))).toEqual(want);
		expect(lines(read(text.replaceAll('\n', '\r\n'), size))).toEqual(want);
		expect(lines(read(text.replaceAll('\n', ' \t'), size))).toEqual(want);
	});

	test('reads vectors bit by bit, short ones filled on the left', () => {
		const head = '$timescale 10ps $end $var reg 4 # data [3:0] $end $var wire 2 % up [0:1] $end $enddefinitions $end\n';
		const recording = read(`${head}#0 b1010 # b01 % #5 b1 # #9 bx0 # b1 %`);
		expect(lines(recording)).toEqual([
			'data[3] 1 5:0 9:x',
			'data[2] 0 9:x',
			'data[1] 1 5:0 9:x',
			'data[0] 0 5:1 9:0',
			'up[0] 0',
			'up[1] 1'
		]);
		expect(String(recording.unit)).toBe('1/100000000000');
	});

	test('cuts reals half-way between their lowest and highest', () => {
		const head = '$timescale 1us $end $var real 64 r volts $end $enddefinitions\n$end\n';
		const recording = read(`${head}#0 r0.1 r #10 r3.2 r #20 r0.05 r #30 r1.7 r`);
		// Span 0.05 .. 3.2: threshold 1.625 with 0.315 to either side, so 1.7 keeps the level.
		expect(lines(recording)).toEqual(['volts 0 10:1 20:0']);
		expect(recording.lines[0].slicing!.threshold).toBeCloseTo(1.625, 6);
	});

	test('names lines by their scopes, without one that all share; names for one identifier are one line', () => {
		const head =
			'$timescale 1ns $end $scope module t $end $scope module x $end $var wire 1 ! a $end $upscope $end $var wire 1 ! b $end $var wire 1 & c $end $upscope $end $enddefinitions $end ';
		const recording = read(`${head}#0 1! 0&\n`);
		expect(recording.lines.map((l) => l.name)).toEqual(['x.a', 'c']);
		expect(recording.notes).toEqual([{ code: 'alias', name: 'b' }]);
	});

	test('skips comments and knows the dump words', () => {
		expect(lines(read(`${HEAD}$comment 1! #99 $end #0 $dumpoff x! $end #4 $dumpon 1! 0" $end #6 $dumpall 1! $end`))).toEqual([
			'a x 4:1',
			'b x 4:0'
		]);
	});

	test('the last level of a moment counts', () => {
		expect(lines(read(`${HEAD}#0 0! 1! 0" #5 0! 1! #7 0!`))).toEqual(['a 1 7:0', 'b 0']);
	});

	test('a file without a last line break is read, with a note', () => {
		const recording = read(`${HEAD}#0\n1!\n#10\n0!`);
		expect(lines(recording)[0]).toBe('a 1 10:0');
		expect(recording.notes).toEqual([{ code: 'cut-last-line', line: 10 }]);
	});

	const at = HEAD.length;
	test.each([
		['', 'empty at 0/0'],
		['$timescale 1 ns $end\n$var wire 1 ! a', 'truncated at 2/36'],
		[HEAD, `no-values at 7/${at}`],
		[`${HEAD}#10\n1!\n#9\n`, `time-back at 9/${at + 7}`],
		[`${HEAD}#0\n1?\n`, `unknown-identifier at 8/${at + 4}`],
		[`${HEAD}#0\ngoodbye\n`, `unknown-word at 8/${at + 3}`],
		[`${HEAD}#1x\n`, `bad-time at 7/${at}`],
		[`${HEAD}#99999999999999999999\n`, `too-fine at 7/${at}`],
		[`${HEAD}#0\nb12 !\n`, `bad-value at 8/${at + 7}`],
		['$timescale 3 ns $end ', 'bad-timescale at 1/16'],
		['$var wire 1 ! a $end $enddefinitions $end ', 'no-timescale at 1/37'],
		['$timescale 1 ns $end $enddefinitions $end ', 'no-variables at 1/37'],
		['$hello $end ', 'unknown-section at 1/0'],
		['$timescale 1 ns $end $var wire 2000 ! a $end $enddefinitions $end ', 'no-variables at 1/61']
	])('refuses %j', (text, want) => expect(failure(text)).toBe(want));

	test('levels of nine-valued logic are strong or weak, or unknown', () => {
		const text = `${HEAD}#0 H! L" #1 L! h" #2 U! -" #3 1! 0" #4 W! w"\n`;
		expect(lines(read(text))).toEqual(['a 1 1:0 2:x 3:1 4:x', 'b 0 1:1 2:x 3:0 4:x']);
	});

	test('reals that are no numbers are unknown', () => {
		const head = '$timescale 1 ns $end $var real 64 ! v $end $enddefinitions $end ';
		expect(lines(read(`${head}#0 r0 ! #1 r5 ! #2 rNaN ! #3 r0 ! #4 r-inf ! #5 r5 ! #6 r0 !\n`))).toEqual(['v 0 1:1 2:x 3:0 4:x 5:1 6:0']);
		expect(failure(`${head}#0 rfrog !\n`)).toContain('bad-real');
	});

	test('what is too much to show is left out and said, and everything else is read', () => {
		const text =
			'$timescale 1 ns $end $var wire 2000 % wide $end $var wire 1 ! a $end $var wire 0 " none $end $enddefinitions $end #0 b1010 % 0! 1" #5 1! bx %\n';
		const recording = read(text);
		expect(lines(recording)).toEqual(['a 0 5:1']);
		expect(recording.notes).toEqual([{ code: 'left-out', name: 'wide', count: 2 }]);
		const many = Array.from({ length: 5 }, (_, i) => `$var wire 1000 ${String.fromCharCode(40 + i)} v${i} $end`).join(' ');
		const four = read(`$timescale 1 ns $end ${many} $enddefinitions $end #0 b1 ( #1 b0 (\n`);
		expect([four.lines.length, four.notes.find(({ code }) => code === 'left-out')]).toEqual([
			4000,
			{ code: 'left-out', name: 'v4', count: 1 }
		]);
	});

	test.each([
		['in a value', '#0 1! 0" #5 0! b10', ['a 1 5:0', 'b 0']],
		['in an identifier that none has', '#0 1! 0" #5 0! 1?', ['a 1 5:0', 'b 0']],
		['in a time', '#0 1! 0" #12 0! #1', ['a 1 12:0', 'b 0']]
	])('a dump that was cut off %s is read as far as it is whole', (_, values, want) => {
		const recording = read(`${HEAD}${values}`);
		expect(lines(recording)).toEqual(want);
		expect(recording.notes).toEqual([{ code: 'cut-last-line', line: 7 }]);
	});

	test('events are pulses of one step, one a moment', () => {
		const head = '$timescale 1 ns $end $var event 1 ! tick $end $enddefinitions $end ';
		expect(lines(read(`${head}#5 1! #9 1! 1! #20 0!\n`))).toEqual(['tick 0 5:1 6:0 9:1 10:0 20:1 21:0']);
	});

	test('escaped names hold what they like', () => {
		const head =
			'$timescale 1 ns $end $scope module \\top.x $end $var wire 1 ! \\a+b[3] $end $var wire 2 " \\bus [1:0] $end $upscope $end $enddefinitions $end ';
		expect(read(`${head}#0 0! b01 " #1 1!\n`).lines.map(({ name }) => name)).toEqual(['x.a+b[3]', 'x.bus[1]', 'x.bus[0]']);
	});

	test('names what was found', () => {
		expect(() => read(`${HEAD}#0\n1?\n`)).toThrow('unknown-identifier at line 8, byte 125 {"identifier":"?"}');
	});

	test('a word without end is refused, not gathered', () => {
		const reader = new AnyReader();
		reader.feed(bytes(HEAD));
		expect(() => reader.feed(new Uint8Array(70_000).fill(65))).toThrow('long-token');
	});

	test('the demo recordings have the edges that their names promise', () => {
		const recording = read(readFileSync('demo/recordings/heater-right.vcd', 'utf8'), 1000);
		expect(recording.lines.map((l) => `${l.name} ${l.edges}`)).toEqual(['heater_a 144', 'pps 6']);
	});
});
