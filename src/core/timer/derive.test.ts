import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { shippedPart } from '../part/index.js';
import {
	captureStep,
	crossoverSquared,
	deadTimeCycles,
	deadTimeFor,
	elapsedTicks,
	encoderRange,
	filterWindow,
	gatedStep,
	highestForStep,
	intervalTicks,
	lowestCaptured,
	oneShotFor,
	preloadFor,
	staggered,
	wholeTicks
} from './index.js';

const r = (text: string) => Rational.parse(text);

describe('times as ticks', () => {
	test('round half up, and tell what they really take', () => {
		const whole = (seconds: string) => wholeTicks(r(seconds), r('1000'));
		expect(whole('0.0015')).toEqual({ ticks: 2, seconds: r('1/500') });
		expect(whole('0.00149').ticks).toBe(1);
		expect(whole('0').ticks).toBe(0);
	});
	test('a preload makes just the interval that it was made for (seed 91)', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 70_000 }), fc.integer({ min: 0, max: 20 }), (ticks, late) => {
				const preload = preloadFor(ticks, 16, late);
				if (preload === null) expect(ticks - late < 1 || ticks - late > 65_536).toBe(true);
				else expect(intervalTicks({ mode: 'preload', rule: 'inclusive', width: 16, value: preload, late })).toBe(ticks);
			}),
			{ seed: 91, numRuns: 500 }
		);
	});
	test('elapsed ticks go across a wrap', () => {
		const up = (last: number) => ({ first: 0, last, down: false });
		expect([elapsedTicks(65_000, 200, up(65_535)), elapsedTicks(5, 5, up(65_535)), elapsedTicks(2 ** 32 - 1, 1, up(2 ** 32 - 1))]).toEqual([
			736, 0, 2
		]);
	});
	test('elapsed ticks wrap where the counter does, and go the way that it goes', () => {
		// 0 .. 999: from 990 to 10 are 20 ticks; downwards they are 980.
		expect([
			elapsedTicks(990, 10, { first: 0, last: 999, down: false }),
			elapsedTicks(990, 10, { first: 0, last: 999, down: true })
		]).toEqual([20, 980]);
		// An exclusive down counter holds 1 .. 1000, and never 0.
		const down = { first: 1, last: 1000, down: true };
		expect([elapsedTicks(1, 1000, down), elapsedTicks(0, 5, down)]).toEqual([1, undefined]);
	});
});

test('a one-shot waits C ticks and lasts to the end of T; less than a tick of either is none', () => {
	const made = (delay: string, pulse: string, width = 16) => oneShotFor(r(delay), r(pulse), r('1000000'), width);
	expect(made('20e-6', '5e-6')).toEqual({ compare: 20, reload: 24, delayTicks: 20, pulseTicks: 5 });
	expect(made('0', '5e-6')).toBeNull();
	expect(made('5e-6', '0.4e-6')).toBeNull();
	expect(made('0.06', '0.01')).toBeNull();
	expect(made('250e-6', '6e-6', 8)).toEqual({ compare: 250, reload: 255, delayTicks: 250, pulseTicks: 6 });
});

describe('deadTimeFor', () => {
	const segments = shippedPart('heron-32')!.timers[0].channels[0].complement!.segments;
	test('takes the shortest that is long enough, by its smallest code: against every code (seed 92)', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 3_600_000 }), (tenths) => {
				const wish = Rational.ratio(tenths, 72_000_000 * 1000);
				const all = Array.from({ length: 256 }, (_, code) => ({ code, cycles: deadTimeCycles(segments, code)! }));
				const enough = all
					.filter(({ cycles }) => Rational.ratio(cycles, 72_000_000).compare(wish) >= 0)
					.sort((a, b) => a.cycles - b.cycles || a.code - b.code);
				const found = deadTimeFor(segments, r('72000000'), wish);
				expect(found && [found.code, found.cycles]).toEqual(enough.length > 0 ? [enough[0].code, enough[0].cycles] : null);
			}),
			{ seed: 92, numRuns: 500 }
		);
	});
	test('a code in no segment has no cycles', () => expect(deadTimeCycles(segments, 256)).toBeUndefined());
});

describe('capture', () => {
	const tickRate = r('3000000');
	test('every k-th edge reaches k times lower and is k times finer', () => {
		expect(lowestCaptured(tickRate, 16, 8).div(lowestCaptured(tickRate, 16, 1))).toEqual(r('8'));
		expect(captureStep(r('1000'), tickRate, 1).div(captureStep(r('1000'), tickRate, 8))).toEqual(r('8'));
	});
	test('at the highest for a step the step is just kept', () => {
		expect(captureStep(highestForStep(r('1/1000'), tickRate, 4), tickRate, 4)).toEqual(r('1/1000'));
	});
	test('where capture and gated counting cross they are equally fine', () => {
		// 3 MHz x 1 / 12 s = 250000: 500 Hz.
		const squared = crossoverSquared(tickRate, 1, r('12'));
		expect(squared).toEqual(r('250000'));
		expect(captureStep(r('500'), tickRate, 1)).toEqual(gatedStep(r('500'), r('12')));
	});
	test('an encoder’s range and its filter', () => {
		expect(encoderRange(500, 4, 3)).toEqual({ counts: 6000, reload: 5999 });
		expect(filterWindow(8, 4, r('72000000'))).toEqual(r('1/2250000'));
	});
});

describe('staggered', () => {
	test('three followers of 60000 ticks stand at exact thirds with the latency taken off', () => {
		const follower = (i: number) => staggered({ reload: 59_999, prescale: 1, parts: 3, latency: 1 }, i);
		expect([follower(1), follower(2)].map((f) => [f.compare, f.lagCycles, f.lagDegrees.toString()])).toEqual([
			[19_999, 20_000, '120/1'],
			[39_999, 40_000, '240/1']
		]);
	});
	test('is the nearest of all compares (seed 93)', () => {
		const setting = fc.record({
			reload: fc.integer({ min: 1, max: 60 }),
			prescale: fc.integer({ min: 1, max: 5 }),
			parts: fc.integer({ min: 2, max: 7 }),
			latency: fc.integer({ min: 0, max: 3 })
		});
		fc.assert(
			fc.property(setting, fc.nat({ max: 5 }), (given, n) => {
				const i = 1 + (n % (given.parts - 1 || 1));
				const { compare, lagDegrees } = staggered(given, i);
				const wished = Rational.ratio(360 * i, given.parts);
				const off = (c: number) =>
					Rational.ratio(360 * (c * given.prescale + given.latency), (given.reload + 1) * given.prescale)
						.sub(wished)
						.abs();
				expect(lagDegrees.sub(wished).abs()).toEqual(off(compare));
				for (let c = 0; c <= given.reload; c++) expect(off(c).compare(off(compare))).toBeGreaterThanOrEqual(0);
			}),
			{ seed: 93, numRuns: 300 }
		);
	});
});
