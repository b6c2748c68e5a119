import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { lagOf, nearestLag, shapeAt, staggered, tableRows, type LagSetting, type Shape } from './index.js';

const setting = (leader: number, prescale: number, follower: number, latency: number): LagSetting => ({
	leader: { kernel: Rational.int(leader), prescale },
	follower: { kernel: Rational.int(follower), latency }
});

describe('a lag', () => {
	test('is the event, seen at the follower’s next cycle, and its latency', () => {
		// 7 x 2 cycles of 10 Hz are 1.4 s; 4 Hz sees it at 1.5 s and acts a cycle later.
		expect(lagOf(setting(10, 2, 4, 1), 7).toString()).toBe('7/4');
	});
	test('of the chosen compare is nearest of all, a tie taking the larger', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 60 }),
				fc.integer({ min: 1, max: 4 }),
				fc.integer({ min: 1, max: 40 }),
				fc.integer({ min: 1, max: 60 }),
				fc.integer({ min: 0, max: 3 }),
				fc.integer({ min: 0, max: 400 }),
				(leader, prescale, last, follower, latency, wish) => {
					const one = setting(leader, prescale, follower, latency);
					const asked = Rational.ratio(wish, 37);
					let best = 0;
					for (let compare = 1; compare <= last; compare++) {
						const off = (c: number) => lagOf(one, c).sub(asked).abs();
						if (off(compare).compare(off(best)) <= 0) best = compare;
					}
					expect(nearestLag(one, asked, last).ticks).toBe(best);
				}
			),
			{ numRuns: 500, seed: 3 }
		);
	});
	test('of a slow follower is looked for as far as its cycles are wide', () => {
		// One cycle of the follower is 10 000 of the leader's ticks: all of them but 0 are seen at 1 s, the last is 10 000.
		expect(nearestLag(setting(10_000, 1, 1, 0), Rational.ratio(9, 10), 20_000).ticks).toBe(10_000);
	});
	test('on one kernel clock is the stagger of section 10', () => {
		for (const reload of [99, 1000, 59_999])
			for (const prescale of [1, 3])
				for (const parts of [2, 3, 7])
					for (let i = 1; i < parts; i++) {
						const period = Rational.int((reload + 1) * prescale).div(Rational.int(1_000_000));
						const want = staggered({ reload, prescale, parts, latency: 2 }, i);
						const got = nearestLag(setting(1_000_000, prescale, 1_000_000, 2), period.mul(Rational.ratio(i, parts)), reload);
						expect([parts, i, got.ticks]).toEqual([parts, i, want.compare]);
						expect(got.lag.div(period).mul(Rational.int(360)).equals(want.lagDegrees)).toBe(true);
					}
	});
});

describe('shapes', () => {
	const at = (shape: Shape, num: number, den: number) => shapeAt(shape, Rational.ratio(num, den)).toString();
	test('are exact where they can be', () => {
		expect(['sine', 'triangle', 'trapezoid'].map((shape) => at(shape as Shape, 1, 4))).toEqual(['1/1', '1/1', '1/1']);
		expect([at('sine', 1, 12), at('sine', 7, 12), at('triangle', 1, 8), at('triangle', 5, 8)]).toEqual(['1/2', '-1/2', '1/2', '-1/2']);
		// 40 of 360 degrees is 4/9 of the triangle, and two thirds of the trapezoid's flat.
		expect([at('triangle', 1, 9), at('trapezoid', 1, 9), at('trapezoid', 1, 6), at('trapezoid', 1, 3)]).toEqual([
			'4/9',
			'2/3',
			'1/1',
			'1/1'
		]);
	});
	test.each<Shape>(['sine', 'triangle', 'third-harmonic', 'trapezoid'])('a %s is odd, and stays within its ends', (shape) => {
		for (let k = 0; k <= 48; k++) {
			const value = shapeAt(shape, Rational.ratio(k, 48));
			expect(value.abs().compare(Rational.one)).toBeLessThanOrEqual(0);
			expect(
				shapeAt(shape, Rational.ratio(48 - k, 48))
					.add(value)
					.abs()
					.toNumber()
			).toBeLessThan(1e-11);
		}
	});
	test('the third harmonic makes its sum flat at the top, and just reaches 1', () => {
		const sixty = shapeAt('third-harmonic', Rational.ratio(1, 6)).toNumber();
		expect(sixty).toBeCloseTo(1, 12);
		expect(shapeAt('third-harmonic', Rational.ratio(1, 4)).toNumber()).toBeCloseTo((2 / Math.sqrt(3)) * (5 / 6), 12);
	});
	test('rows take the nearest compare, each with its own rounding', () => {
		const rows = tableRows({ mode: 'up', rule: 'inclusive', width: 8 }, 99, 'below', [Rational.ratio(1, 3), Rational.one, Rational.zero])!;
		expect(rows.map(({ compare, duty }) => [compare, duty.toString()])).toEqual([
			[33, '33/100'],
			[100, '1/1'],
			[0, '0/1']
		]);
		expect(tableRows({ mode: 'up', rule: 'inclusive', width: 8 }, 0, 'below', [])).toBeNull();
	});
});
