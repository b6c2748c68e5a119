import { describe, expect, test } from 'vitest';
import { readDump, type DumpOptions } from './dumps.js';

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
