import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decimalText, exactText, Rational, showDecimal, showEngineering } from './index.js';

const r = (text: string) => Rational.parse(text);

describe('showEngineering', () => {
	test.each([
		['1200', 'Hz', '1.2', 'kHz', true],
		['72000000', 'Hz', '72', 'MHz', true],
		['1/1200', 's', '833.3333', 'µs', false],
		['0', 's', '0', 's', true],
		['999.99996', 'Hz', '1', 'kHz', false],
		['-0.00025', 's', '-250', 'µs', true],
		['1e-18', 's', '0.001', 'fs', true],
		['12345678901234', 'Hz', '12.34568', 'THz', false]
	])('%s %s is %s %s', (value, unit, text, prefixed, exact) => {
		expect(showEngineering(r(value), unit)).toMatchObject({ text, unit: prefixed, exact });
	});

	test('keeps the exact value beside a rounded one', () => {
		expect(showEngineering(r('1/1200'), 's').full).toBe('1/1200 s');
		expect(showEngineering(r('1/1250'), 's').full).toBe('0.0008 s');
	});
});

describe('showDecimal', () => {
	test('never rounds away the whole part of a number', () => {
		expect(showDecimal(r('12345678'), 4)).toEqual({ text: '12345678', exact: true });
	});
	test('says whether it was rounded', () => {
		expect(showDecimal(r('2/3'), 3)).toEqual({ text: '0.667', exact: false });
		expect(showDecimal(r('0.125'), 3)).toEqual({ text: '0.125', exact: true });
	});
});

describe('decimalText', () => {
	test.each([
		['1/3', 5, '0.33333'],
		['2/3', 5, '0.66667'],
		['-1/8', 2, '-0.13'],
		['1/8', 3, '0.125'],
		['100', 3, '100'],
		['0', 3, '0'],
		['-1/3000', 3, '0'],
		['5/2', 0, '3'],
		['1/72000000', 15, '0.000000013888889']
	])('%s to %i places', (value, places, text) => expect(decimalText(Rational.parse(value), places)).toBe(text));
});

describe('exactText', () => {
	test('is a decimal where one ends, a fraction otherwise', () => {
		expect(exactText(r('-1/8'))).toBe('-0.125');
		expect(exactText(r('72000000'))).toBe('72000000');
		expect(exactText(r('1/3'))).toBe('1/3');
	});
	test('is read back as the same value (seed 7)', () => {
		const rational = fc.tuple(fc.bigInt({ min: -(10n ** 20n), max: 10n ** 20n }), fc.bigInt({ min: 1n, max: 10n ** 12n }));
		fc.assert(
			fc.property(rational, ([n, d]) => {
				const value = Rational.of(n, d);
				expect(Rational.parse(exactText(value)).equals(value)).toBe(true);
			}),
			{ seed: 7 }
		);
	});
});

test('beyond giga there are more prefixes, and beyond all of them an exponent', () => {
	const shown = (text: string) => {
		const { text: number, unit, exact } = showEngineering(Rational.parse(text), 'Hz', 5);
		return `${exact ? '' : '≈'}${number} ${unit}`;
	};
	expect(shown('2.5e12')).toBe('2.5 THz');
	expect(shown('1e20')).toBe('100 EHz');
	expect(shown('999.9999e18')).toBe('≈1000 EHz');
	expect(shown('1e30')).toBe('1e30 Hz');
	expect(shown('1.2345678e30')).toBe('≈1.2346e30 Hz');
});

test('seconds take no prefix above one', () => {
	expect(showEngineering(Rational.parse('3600'), 's')).toMatchObject({ text: '3600', unit: 's', exact: true });
	expect(showEngineering(Rational.parse('999.99999'), 's', 5)).toMatchObject({ text: '1000', unit: 's', exact: false });
	expect(showEngineering(Rational.parse('0.9999999'), 's', 4)).toMatchObject({ text: '1', unit: 's' });
});
