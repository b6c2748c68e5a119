import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { gcd, gcdSafe, Rational } from './index.js';

const SEED = 41;
const big = fc.bigInt({ min: -(10n ** 30n), max: 10n ** 30n });
const positive = fc.bigInt({ min: 1n, max: 10n ** 30n });
const rational = fc.tuple(big, positive).map(([n, d]) => Rational.of(n, d));

describe('Rational', () => {
	test('is kept in lowest terms with a positive denominator', () => {
		expect(Rational.of(6n, -8n).toString()).toBe('-3/4');
		expect(Rational.of(0n, -5n).toString()).toBe('0/1');
	});

	test('has no value with denominator 0', () => {
		expect(() => Rational.of(1n, 0n)).toThrow(RangeError);
		expect(() => Rational.zero.inverse()).toThrow(RangeError);
	});

	test('is never made from a float', () => {
		expect(() => Rational.int(0.5)).toThrow('no safe integer');
		expect(() => Rational.int(2 ** 53)).toThrow('no safe integer');
	});

	test.each([
		['3/8', '3/8'],
		['-12', '-12/1'],
		['1.25e-3', '1/800'],
		['.5', '1/2'],
		['5.', '5/1'],
		['2e3', '2000/1'],
		[' 7 / 21 ', '1/3']
	])('reads %s', (text, want) => expect(Rational.parse(text).toString()).toBe(want));

	test.each(['', '.', 'e3', '1/0', '0x10', '1,5', '1e99999'])('refuses %j', (text) => {
		expect(Rational.tryParse(text)).toBeUndefined();
		expect(() => Rational.parse(text)).toThrow(SyntaxError);
	});

	test('floors and rounds half up, also below zero', () => {
		const cases: [string, bigint, bigint][] = [
			['7/2', 3n, 4n],
			['-7/2', -4n, -3n],
			['-5/3', -2n, -2n],
			['5/3', 1n, 2n],
			['4/1', 4n, 4n]
		];
		for (const [text, floor, round] of cases) {
			expect(Rational.parse(text).floor()).toBe(floor);
			expect(Rational.parse(text).roundHalfUp()).toBe(round);
		}
	});

	test('becomes the nearest double, also of numbers no double holds', () => {
		expect(Rational.ratio(1, 3).toNumber()).toBe(1 / 3);
		const huge = Rational.of(10n ** 400n, 10n ** 399n * 3n);
		expect(huge.toNumber()).toBeCloseTo(10 / 3, 12);
		expect(Rational.of(1n, 10n ** 400n).toNumber()).toBe(0);
	});

	test(`obeys the laws of a field (seed ${SEED})`, () => {
		fc.assert(
			fc.property(rational, rational, rational, (a, b, c) => {
				expect(a.add(b).equals(b.add(a))).toBe(true);
				expect(
					a
						.add(b)
						.add(c)
						.equals(a.add(b.add(c)))
				).toBe(true);
				expect(a.mul(b.add(c)).equals(a.mul(b).add(a.mul(c)))).toBe(true);
				expect(a.sub(b).add(b).equals(a)).toBe(true);
				if (b.sign !== 0) expect(a.div(b).mul(b).equals(a)).toBe(true);
				expect(Math.sign(a.compare(b))).toBe(a.sub(b).sign);
			}),
			{ seed: SEED }
		);
	});

	test(`is told back from its text (seed ${SEED})`, () => {
		fc.assert(
			fc.property(rational, (a) => {
				expect(Rational.parse(a.toString()).equals(a)).toBe(true);
				expect(gcd(a.num < 0n ? -a.num : a.num, a.den)).toBe(1n);
			}),
			{ seed: SEED }
		);
	});
});

test('both divisors agree', () => {
	expect(gcd(2n ** 70n * 9n, 6n ** 40n)).toBe(2n ** 40n * 9n);
	expect(gcdSafe(1071, 462)).toBe(21);
	expect(gcd(1071n, 462n)).toBe(21n);
	expect(gcdSafe(5, 0)).toBe(5);
});
