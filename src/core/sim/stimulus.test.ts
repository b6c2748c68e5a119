import { describe, expect, test } from 'vitest';
import { contactTimes, countQuadrature, echoTimes, inputOf, quadratureInputs, squareTimes, sweptTimes } from './index.js';

const plain = { samples: 1, divide: 1 };

describe('signals at inputs', () => {
	test('a square wave of 7.5 cycles is rounded edge by edge, never in steps', () => {
		expect(Array.from(inputOf(0, squareTimes(7.5, 3, 40)).edges)).toEqual([8, 11, 15, 18, 23, 26, 30, 33]);
	});
	test('never high is no edge, never low is one', () => {
		expect([[...squareTimes(10, 0, 100)], [...squareTimes(10, 10, 100)]]).toEqual([[], [10]]);
		expect([[...sweptTimes(0.1, 0.1, 0, 100)], [...sweptTimes(0.1, 0.1, 1, 100)]]).toEqual([[], [10]]);
	});
	test('jitter keeps within its bounds, the order, and itself', () => {
		const times = [...squareTimes(100, 50, 100_000)];
		const [one, other] = [inputOf(0, times, 20), inputOf(0, times, 20)];
		expect(one).toEqual(other);
		const off = times.map((time, i) => one.edges[i] - time);
		expect(Math.max(...off.map(Math.abs))).toBeLessThanOrEqual(20);
		expect(Math.max(...off)).toBeGreaterThan(15);
		expect(Math.min(...off)).toBeLessThan(-15);
		expect(Array.from(one.edges).every((time, i) => i === 0 || time > one.edges[i - 1])).toBe(true);
	});
	test('a sweep passes as many periods as its mean rate says: (10 + 30) / 2 a second for 2 s', () => {
		const times = [...sweptTimes(10e-6, 30e-6, 0.25, 2e6)];
		const rises = times.filter((_, i) => i % 2 === 0);
		expect(rises.length).toBe(40);
		// Turn k lies where 10 t + 5 t^2 = k: t = -1 + root(1 + k / 5).
		rises.forEach((time, i) => expect(time).toBeCloseTo((-1 + Math.sqrt(1 + (i + 1) / 5)) * 1e6, 3));
	});
	test('a contact bounces as often as it is told, when it closes and when it opens', () => {
		const times = [...contactTimes(1000, 0, 1, 5000, { bounce: 120, bounces: 2 })];
		// Four edges more each: 1, 3, 6 and 10 tenths of the time.
		expect(times).toEqual([1000, 1012, 1036, 1072, 1120, 6000, 6012, 6036, 6072, 6120]);
	});
	test('echoes grow evenly from the first width to the last', () => {
		expect([...echoTimes(100, 10, 30, 500)]).toEqual([100, 110, 200, 215, 300, 320, 400, 425, 500, 530]);
	});
	test('an encoder that turns to and fro comes back to where it was', () => {
		const legs = [
			{ speed: 1e-4, over: 1e5 },
			{ speed: 1e-4, over: 2e5 },
			{ speed: -1e-4, over: 2e5 },
			{ speed: -1e-4, over: 1.5e5 },
			{ speed: 0, over: 1e5 }
		];
		const { a, b } = quadratureInputs(legs, 0);
		const setting = { kernel: 1, times: 4 as const, reload: 999, range: 'clamp' as const, start: 500, filter: plain };
		const { counts, final } = countQuadrature(a, b, setting, 1e6);
		// Up 5 + 20 cycles, and 5 to the turn; down 5, 15 and 5: five are left, twenty counts.
		expect(Math.max(...counts.map(([, count]) => count))).toBe(500 + 4 * 30);
		expect(final).toBe(500 + 4 * 5);
	});
});
