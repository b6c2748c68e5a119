import { describe, expect, test } from 'vitest';
import { readBinding } from '../../registers/index.js';
import { indices, readSvdNumber } from './numbers.js';
import { blocksOf, SvdError, SvdReader } from './index.js';

function read(text: string, piece = text.length) {
	const reader = new SvdReader();
	for (let at = 0; at < text.length; at += piece) reader.feed(text.slice(at, at + piece));
	return reader.end();
}
const device = (peripherals: string, more = '') =>
	`<?xml version="1.0" encoding="utf-8"?>\n<device>\n<name>Wren</name><size>32</size><resetValue>0</resetValue>${more}\n<peripherals>\n${peripherals}\n</peripherals>\n</device>`;
const peripheral = (name: string, registers: string, more = '') =>
	`<peripheral><name>${name}</name><baseAddress>0x4000_0000</baseAddress>${more}<registers>${registers}</registers></peripheral>`.replace(
		'0x4000_0000',
		'0x40000000'
	);
const register = (name: string, offset: string, more = '') =>
	`<register><name>${name}</name><addressOffset>${offset}</addressOffset>${more}</register>`;
const field = (name: string, bits: string, more = '') => `<field><name>${name}</name>${bits}${more}</field>`;
const faults = (text: string) => read(text).findings.map(({ line, fault, of }) => [line, fault, of]);

describe('numbers', () => {
	test.each([
		['010', 10n],
		['0x1F', 31n],
		['#101', 5n],
		['0b101', 5n],
		['2k', 2048n],
		['0x8g', 8n * 1024n ** 3n],
		['0x8z', undefined],
		['', undefined]
	])('%s', (text, value) => expect(readSvdNumber(text)).toBe(value));
	test('indices of what is repeated', () => {
		expect(indices(3, undefined)).toEqual(['0', '1', '2']);
		expect(indices(3, '1-3')).toEqual(['1', '2', '3']);
		expect(indices(4, 'A-D')).toEqual(['A', 'B', 'C', 'D']);
		expect(indices(2, 'L, H')).toEqual(['L', 'H']);
		expect(indices(3, 'L,H')).toBeUndefined();
	});
});

describe('a description', () => {
	const plain = device(
		peripheral('TIMERA', register('TOP', '4', `<fields>${field('VALUE', '<bitOffset>0</bitOffset><bitWidth>16</bitWidth>')}</fields>`))
	);
	test('is the same in whatever pieces it comes', () => {
		const whole = read(plain);
		for (const piece of [1, 7, 64]) expect(read(plain, piece)).toEqual(whole);
		expect(whole.peripherals[0].registers[0]).toMatchObject({
			name: 'TOP',
			offset: 4n,
			bits: 32,
			reset: 0n,
			fields: [{ name: 'VALUE', high: 15, low: 0 }]
		});
	});
	test('takes fields in all three ways, and what they do when they are written', () => {
		const fields = [
			field('A', '<lsb>0</lsb><msb>3</msb>'),
			field('B', '<bitRange>[7:4]</bitRange>', '<modifiedWriteValues>oneToClear</modifiedWriteValues>'),
			field('C', '<bitOffset>8</bitOffset>', '<readAction>clear</readAction>')
		].join('');
		const found = read(device(peripheral('T', register('R', '0', `<fields>${fields}</fields>`))));
		expect(found.peripherals[0].registers[0].fields.map(({ name, high, low }) => [name, high, low])).toEqual([
			['A', 3, 0],
			['B', 7, 4],
			['C', 8, 8]
		]);
		expect(blocksOf(found)).toEqual({
			T: {
				base: '0x40000000',
				bits: 32,
				registers: { R: { at: '0x0', reset: '0x0', read: 'clears', '1-acts': '7:4', fields: { A: '3:0', B: '7:4', C: '8' } } }
			}
		});
	});
	test('repeats, nests, and takes over, in any order of the file', () => {
		const cluster = `<cluster><dim>2</dim><dimIncrement>0x10</dimIncrement><name>LANE%s</name><addressOffset>0x20</addressOffset>${register('MATCH', '0x4')}</cluster>`;
		const text = device(
			`<peripheral derivedFrom="TIMERA"><name>TIMERB</name><baseAddress>0x40001000</baseAddress></peripheral>${peripheral('TIMERA', `<register><dim>2</dim><dimIncrement>4</dimIncrement><name>KEEP[%s]</name><addressOffset>0</addressOffset></register>${cluster}`)}`
		);
		const found = read(text);
		expect(found.findings).toEqual([]);
		expect(
			found.peripherals.map(({ name, base, registers }) => [
				name,
				base.toString(16),
				registers.map((one) => [one.name, Number(one.offset)])
			])
		).toEqual([
			[
				'TIMERB',
				'40001000',
				[
					['KEEP0', 0],
					['KEEP1', 4],
					['LANE0_MATCH', 0x24],
					['LANE1_MATCH', 0x34]
				]
			],
			[
				'TIMERA',
				'40000000',
				[
					['KEEP0', 0],
					['KEEP1', 4],
					['LANE0_MATCH', 0x24],
					['LANE1_MATCH', 0x34]
				]
			]
		]);
		expect(readBinding({ blocks: blocksOf(found) }).findings).toEqual([]);
	});
	test('tells what makes no sense with its line, and keeps the rest', () => {
		expect(faults(device(`${peripheral('A', register('R', '0x8z'))}`))).toEqual([[5, 'no-number', 'R']]);
		expect(faults(device('<peripheral><name>A</name></peripheral>'))).toEqual([[5, 'no-base', 'A']]);
		expect(
			faults(device(`<peripheral derivedFrom="B"><name>A</name></peripheral>\n<peripheral derivedFrom="A"><name>B</name></peripheral>`))
		).toEqual([
			[5, 'circle', 'A'],
			[6, 'circle', 'B']
		]);
		expect(faults(device('<peripheral derivedFrom="Z"><name>A</name></peripheral>'))).toEqual([[5, 'unknown-name', 'A']]);
		const fields = `<fields>${field('A', '<bitOffset>0</bitOffset><bitWidth>8</bitWidth>')}${field('B', '<bitOffset>4</bitOffset>')}${field('C', '<bitOffset>30</bitOffset><bitWidth>4</bitWidth>')}</fields>`;
		expect(faults(device(peripheral('T', register('R', '0', fields))))).toEqual([
			[5, 'outside', 'C'],
			[5, 'overlap', 'B']
		]);
	});
	test.each([
		['', 'no-xml'],
		['<device><a></device>', 'no-xml'],
		['<!DOCTYPE device [<!ENTITY x "y">]><device/>', 'doctype'],
		['<?xml version="1.0" encoding="latin1"?><device/>', 'encoding'],
		['<a>'.repeat(40), 'too-deep'],
		[`<device><name>${'x'.repeat(70_000)}</name></device>`, 'too-long'],
		['<html/>', 'no-device']
	])('that is none is refused: %s', (text, trouble) => {
		try {
			read(text);
			expect.unreachable();
		} catch (error) {
			expect((error as SvdError).trouble).toBe(trouble);
		}
	});
	test('a line that asks for more registers than there are is refused', () => {
		const many = register('R%s', '0', '<dim>1000000000</dim><dimIncrement>4</dimIncrement>');
		expect(faults(device(peripheral('T', many)))).toEqual([[5, 'too-many', 'R%s']]);
	});
});
