import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { nearestTap, splitCount } from './index.js';

/** Every ascending list of factors, as the slow twin sees them. */
function lists(least: number, most: number, factors: number): number[][] {
	if (factors === 0) return [[]];
	const all: number[][] = [];
	for (let first = least; first <= most; first++) for (const rest of lists(first, most, factors - 1)) all.push([first, ...rest]);
	return all;
}

describe('splitCount', () => {
	test('is the nearest product of all lists, the smaller in a tie, by its first list (seed 94)', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 1200 }),
				fc.integer({ min: 1, max: 9 }),
				fc.integer({ min: 1, max: 3 }),
				(count, most, factors) => {
					const product = (list: number[]) => list.reduce((a, b) => a * b, 1);
					const order = (a: number[], b: number[]) =>
						Math.abs(product(a) - count) - Math.abs(product(b) - count) ||
						product(a) - product(b) ||
						a.map((x, i) => x - b[i]).find((d) => d !== 0) ||
						0;
					const best = lists(1, most, factors).sort(order)[0];
					expect(splitCount(count, most, factors)).toEqual({ factors: best, product: product(best) });
				}
			),
			{ seed: 94, numRuns: 300 }
		);
	});
	test('a prime too large for a byte moves to its neighbour', () =>
		expect(splitCount(1009, 256, 2)).toEqual({ factors: [4, 252], product: 1008 }));
	test('a count of millions is cut at once', () => expect(splitCount(16_777_213, 256, 3).product).toBeGreaterThan(16_000_000));
	test('what cannot be cut is refused', () => {
		expect(() => splitCount(2 ** 53, 256, 2)).toThrow(RangeError);
		expect(() => splitCount(10, 256, 0)).toThrow(RangeError);
	});
});

describe('nearestTap', () => {
	test('is the nearest of all pairs, whatever the order of the prescales (seed 95)', () => {
		fc.assert(
			fc.property(
				fc.uniqueArray(fc.integer({ min: 1, max: 64 }), { minLength: 1, maxLength: 5 }),
				fc.integer({ min: 1, max: 100_000 }),
				(ratios, wish) => {
					const kernel = Rational.int(4_100_000);
					const { prescale, bit, hz } = nearestTap(kernel, ratios, [3, 12], Rational.int(wish));
					const off = (p: number, b: number) =>
						kernel
							.div(Rational.int(p * 2 ** (b + 1)))
							.sub(Rational.int(wish))
							.abs();
					expect(hz).toEqual(kernel.div(Rational.int(prescale * 2 ** (bit + 1))));
					for (const p of ratios)
						for (let b = 3; b <= 12; b++) {
							const order = off(p, b).compare(off(prescale, bit));
							expect(order > 0 || (order === 0 && (p > prescale || (p === prescale && b >= bit)))).toBe(true);
						}
				}
			),
			{ seed: 95, numRuns: 200 }
		);
	});
	test('nothing to choose from is refused', () => expect(() => nearestTap(Rational.one, [], [0, 1], Rational.one)).toThrow(RangeError));
});
