import { describe, expect, test } from 'vitest';
import { dumpText, MOST_DUMP_LINES, readDump, type DumpOptions } from './dumps.js';

const LOW: DumpOptions = { order: 'low' };
const named: DumpOptions = { order: 'low', register: (name) => (name === 'TOPVAL' ? { address: 0x4000_001c, bits: 32 } : undefined) };
const told = (text: string, options = LOW) => {
	const { parts, troubles, shape } = readDump(text, options);
	return {
		shape,
		parts: parts.map(({ address, bytes }) => [address.toString(16), bytes]),
		troubles: troubles.map(({ line, trouble }) => [line, trouble])
	};
};

describe('a dump', () => {
	test('as a debugger prints words: their width is that of their digits', () => {
		expect(told('0x40012000 <block+4>:\t0x0001869f\t0x00000001\n0x40012008:\t0x1234\nCannot access memory at address 0x40012010')).toEqual({
			shape: 'words',
			parts: [
				['40012000', [0x9f, 0x86, 1, 0]],
				['40012004', [1, 0, 0, 0]],
				['40012008', [0x34, 0x12]]
			],
			troubles: []
		});
	});
	test('typed by name, with marks between digits, and in the other order of bytes', () => {
		expect(told("TOPVAL = 0x1'869F", named).parts).toEqual([['4000001c', [0x9f, 0x86, 1, 0]]]);
		expect(told('TOPVAL: 99_999', named).parts).toEqual([['4000001c', [0x9f, 0x86, 1, 0]]]);
		expect(told('{TOPVAL = 0x1, OTHER = 0x2}', named)).toMatchObject({
			parts: [['4000001c', [1, 0, 0, 0]]],
			troubles: [[1, 'unknown-name']]
		});
		expect(told('0x10: 0x1234', { order: 'high' }).parts).toEqual([['10', [0x12, 0x34]]]);
	});
	test('of words that could be anything asks', () => {
		expect(told('0x10: 1f 20').troubles).toEqual([[1, 'unmarked']]);
		expect(told('0x10: 1f 20', { order: 'low', hex: true }).parts).toEqual([
			['10', [0x1f]],
			['11', [0x20]]
		]);
		expect(told('0x1234').troubles).toEqual([[1, 'no-address']]);
		expect(told('0x1234', { order: 'low', base: 8 }).parts).toEqual([['8', [0x34, 0x12]]]);
	});
	test('as bytes by offset, with a repeated line', () => {
		const text = '00000000  01 02 03 04 |....|\n*\n0000000c  05 06\n0000000e';
		expect(told(text, { order: 'low', base: 0x100 })).toEqual({
			shape: 'hex-dump',
			parts: [
				['100', [1, 2, 3, 4]],
				['104', [1, 2, 3, 4]],
				['108', [1, 2, 3, 4]],
				['10c', [5, 6]]
			],
			troubles: []
		});
	});
	test('in groups asks what they are, and takes nothing until it knows', () => {
		const text = '00000000: 0102 0304 05  .....\n00000005: 0a0b';
		expect(told(text)).toEqual({ shape: 'hex-dump', parts: [], troubles: [[1, 'grouped']] });
		expect(told(text, { ...LOW, base: 0x20, grouped: 'bytes' })).toEqual({
			shape: 'hex-dump',
			parts: [
				['20', [1, 2, 3, 4, 5]],
				['25', [10, 11]]
			],
			troubles: []
		});
		expect(told('000000 04030201 08070605\n000008', { ...LOW, base: 0, grouped: 'words' }).parts).toEqual([
			['0', [1, 2, 3, 4, 5, 6, 7, 8]]
		]);
		// A text column that looks like a group is none.
		expect(told('00000000: 0102  abcd', { ...LOW, base: 0, grouped: 'bytes' }).parts).toEqual([['0', [1, 2]]]);
	});
	test('with octal offsets is told by its second line', () => {
		const rows = ['0000000', '0000020', '0000040'].map((offset, i) => `${offset} ${`0${i} `.repeat(16).trim()}`);
		expect(told([...rows, '0000060'].join('\n'), { ...LOW, base: 0 }).parts.map(([at]) => at)).toEqual(['0', '10', '20']);
		const hexadecimal = ['0000000', '0000010'].map((offset) => `${offset} ${'07 '.repeat(16).trim()}`);
		expect(told(hexadecimal.join('\n'), { ...LOW, base: 0 }).parts.map(([at]) => at)).toEqual(['0', '10']);
	});
	test('of plain words is no dump in groups', () => {
		expect(told('123456 1000 2000\n654321 3000 4000', { ...LOW, base: 0 })).toMatchObject({ shape: 'words', troubles: [] });
	});
	test('from offset 0 asks where it begins; what it says is taken', () => {
		expect(told('00000000  01 02')).toEqual({ shape: 'hex-dump', parts: [['0', [1, 2]]], troubles: [[1, 'offsets']] });
		expect(told('40001000  01 02').troubles).toEqual([]);
	});
	test('that is too long says so', () => {
		expect(told('00000000  01 02\n*\nffffffff', { ...LOW, base: 0 }).troubles).toEqual([[3, 'too-long']]);
		const lines = Array.from({ length: MOST_DUMP_LINES + 1 }, () => '0x10: 0x1');
		expect(told(lines.join('\n')).troubles).toEqual([[MOST_DUMP_LINES + 1, 'too-long']]);
	});
	test('of plain bytes becomes a hex dump, and text stays text', () => {
		const bytes = Uint8Array.from({ length: 40 }, (_, i) => (i * 7) % 256);
		const { shape, parts, troubles } = readDump(dumpText(bytes), { ...LOW, base: 0x4000_0000 });
		expect([shape, troubles, parts.map(({ address }) => address - 0x4000_0000)]).toEqual(['hex-dump', [], [0, 16, 32]]);
		expect(parts.flatMap((part) => part.bytes)).toEqual([...bytes]);
		expect(dumpText(new TextEncoder().encode('TOPVAL = 0x1 µ\r\n\t'))).toBe('TOPVAL = 0x1 µ\r\n\t');
		expect(dumpText(Uint8Array.of(0xff, 0xfe, 0x41, 0, 0xb5, 0))).toBe('Aµ');
		expect(dumpText(new Uint8Array())).toBe('');
	});
	test('as records that begin with a colon', () => {
		// 2 + 0 + 0 + 4 + 0x40 + 1 = 0x47, and 0xB9 makes it 0x100; the data's own sum likewise.
		const text = ':020000044001B9\r\n:04200000010203 04\n:0420000001020304D2\n:00000001FF\n';
		expect(told(text)).toEqual({ shape: 'colon-records', parts: [['40012000', [1, 2, 3, 4]]], troubles: [[2, 'not-read']] });
		expect(told(':0420000001020304D3\n:00000001FF').troubles).toEqual([[1, 'checksum']]);
		expect(told(':02FFFF000102FD').troubles).toEqual([
			[1, 'wraps'],
			[1, 'no-end']
		]);
	});
	test('as records that begin with an S', () => {
		// Count 9: address 4, data 4, check 1; 9 + 0x40 + 1 + 0x20 + 0 + 1 + 2 + 3 + 4 = 0x74, to 0xFF: 0x8B.
		expect(told('S00600004844521B\nS30940012000010203048B\nS5030001FB\nS70500000000FA')).toEqual({
			shape: 's-records',
			parts: [['40012000', [1, 2, 3, 4]]],
			troubles: []
		});
		expect(told('S30940012000010203048C').troubles).toEqual([[1, 'checksum']]);
		expect(told('S30940012000010203048B\nS5030002FA').troubles).toEqual([[2, 'count']]);
	});
});
