import { describe, expect, test } from 'vitest';
import { readQuantity, type Dimension } from './index.js';

function read(text: string): string {
	const result = readQuantity(text);
	if (!result.ok) return `${result.reason}${result.unit === undefined ? '' : ` ${result.unit}`}`;
	const { dimension, value, part } = result.quantity;
	return `${dimension} ${value}${part ? ` ${part}` : ''}`;
}

describe('readQuantity', () => {
	test.each<[string, Dimension, string]>([
		['1.2 kHz', 'frequency', '1200/1'],
		['21,5 kHz', 'frequency', '21500/1'],
		['12MHz', 'frequency', '12000000/1'],
		['12 mhz', 'frequency', '12000000/1'],
		['12 mHz', 'frequency', '3/250'],
		['1 GHz', 'frequency', '1000000000/1'],
		['90 rpm', 'frequency', '3/2'],
		['850us', 'time', '17/20000'],
		['850 µs', 'time', '17/20000'],
		['10 ms', 'time', '1/100'],
		['3 h', 'time', '10800/1'],
		['7 ns', 'time', '7/1000000000'],
		['35 %', 'ratio', '7/20'],
		['35%', 'ratio', '7/20'],
		['62 ppm', 'ratio', '31/500000'],
		['120 deg', 'angle', '1/3'],
		['2.5 turns', 'angle', '5/2'],
		['10 bits', 'bits', '10/1'],
		['2100 ticks', 'ticks', '2100/1'],
		['1/3', 'number', '1/3'],
		['1/3 kHz', 'frequency', '1000/3'],
		['0xB1E0', 'number', '45536/1'],
		['0b1011', 'number', '11/1'],
		['60 000', 'number', '60000/1'],
		['60_000', 'number', '60000/1'],
		['1,234,567', 'number', '1234567/1'],
		['1e6 Hz', 'frequency', '1000000/1'],
		['-2.5 us', 'time', '-1/400000']
	])('reads %s', (text, dimension, value) => expect(read(text)).toBe(`${dimension} ${value}`));

	test('hears which part of a period is meant', () => {
		expect(read('120 us on')).toBe('time 3/25000 on');
		expect(read('80us off')).toBe('time 1/12500 off');
		expect(read('35 % high')).toBe('ratio 7/20 on');
		expect(read('35% low')).toBe('ratio 7/20 off');
	});

	test.each([
		['', 'empty'],
		['   ', 'empty'],
		['kHz', 'no-number'],
		['fast', 'no-number'],
		['0x', 'unknown-unit x'],
		['1.2.3 Hz', 'no-number'],
		['1/0', 'zero-denominator'],
		['12 parsec', 'unknown-unit parsec'],
		['5 Qhz', 'unknown-unit Qhz'],
		['5 constructor', 'unknown-unit constructor'],
		['9'.repeat(100), 'too-long']
	])('refuses %j', (text, want) => expect(read(text)).toBe(want));
});

describe('grouped digits', () => {
	test.each([
		['1 000.5 Hz', '2001/2'],
		['1 000 000 Hz', '1000000/1'],
		['1 000,5 Hz', '2001/2'],
		['1,234,567.5 Hz', '2469135/2'],
		['0,500 Hz', '1/2'],
		['21,5 kHz', '21500/1']
	])('%s is read in the one way there is', (text, want) => {
		const read = readQuantity(text);
		expect(read.ok && read.quantity.value.toString()).toBe(want);
	});
	test('what can be read in two ways is refused with both', () => {
		expect(readQuantity('21,500 kHz')).toEqual({ ok: false, reason: 'ambiguous', readings: ['21500 kHz', '21.500 kHz'] });
		expect(readQuantity('-1,000')).toMatchObject({ ok: false, readings: ['-1000', '-1.000'] });
	});
	test('counts are a number of their own', () => expect(readQuantity('72 counts')).toMatchObject({ quantity: { dimension: 'counts' } }));
});
