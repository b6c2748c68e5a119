import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ppmError, Rational } from '../exact/index.js';
import { periodTicks, updateRate, type Counting } from '../timer/index.js';
import { periodFront, ratioTable, tableOf, topPeriods, type PeriodCandidate, type PeriodWish } from './index.js';

/** The slow twin: all pairs, every error an exact rational, sorted as timers.md 10 says. */
function allPairs({ kernel, counting, wish }: PeriodWish, ratios: ArrayLike<number>): PeriodCandidate[] {
	const pairs: PeriodCandidate[] = [];
	for (const prescale of Array.from(ratios))
		for (let reload = 1; reload < 2 ** counting.width; reload++) {
			const ticks = periodTicks(counting, reload)!;
			const hz = updateRate(kernel, prescale, ticks);
			pairs.push({ prescale, reload, ticks, hz, ppm: ppmError(hz, wish) });
		}
	return pairs.sort((a, b) => a.ppm.abs().compare(b.ppm.abs()) || b.ticks - a.ticks || a.prescale - b.prescale);
}

const short = (c: PeriodCandidate) => `${c.prescale}/${c.reload} ${c.hz} ${c.ppm}`;
const counting = fc.record<Counting>({
	mode: fc.constantFrom('up', 'down', 'updown'),
	rule: fc.constantFrom('inclusive', 'exclusive'),
	width: fc.integer({ min: 4, max: 6 })
});
const ratios = fc
	.uniqueArray(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 24 })
	.map((list) => Float64Array.from(list).sort());
const wish = fc.record<PeriodWish>({
	kernel: fc.tuple(fc.integer({ min: 1, max: 100_000 }), fc.integer({ min: 1, max: 7 })).map(([n, d]) => Rational.ratio(n, d)),
	counting,
	wish: fc.tuple(fc.integer({ min: 1, max: 50_000 }), fc.integer({ min: 1, max: 900 })).map(([n, d]) => Rational.ratio(n, d))
});

describe('topPeriods', () => {
	test('is the head of all pairs in exact order, and counts the exact ones (seed 2026)', () => {
		fc.assert(
			fc.property(wish, ratios, fc.integer({ min: 1, max: 60 }), (asked, list, keep) => {
				const all = allPairs(asked, list);
				const found = topPeriods(asked, tableOf(list), { keep });
				expect(found.best.map(short)).toEqual(all.slice(0, keep).map(short));
				expect(found.exact).toBe(all.filter((c) => c.ppm.sign === 0).length);
			}),
			{ seed: 2026, numRuns: 400 }
		);
	});

	test('a bound on ticks or a held reload leaves just those pairs (seed 2027)', () => {
		fc.assert(
			fc.property(wish, ratios, fc.integer({ min: 1, max: 15 }), fc.integer({ min: 0, max: 70 }), (asked, list, reload, leastTicks) => {
				const all = allPairs(asked, list);
				const held = topPeriods(asked, tableOf(list), { keep: 5, reload }).best;
				expect(held.map(short)).toEqual(
					all
						.filter((c) => c.reload === reload)
						.slice(0, 5)
						.map(short)
				);
				const fine = topPeriods(asked, tableOf(list), { keep: 5, leastTicks }).best;
				expect(fine.map(short)).toEqual(
					all
						.filter((c) => c.ticks >= leastTicks)
						.slice(0, 5)
						.map(short)
				);
			}),
			{ seed: 2027, numRuns: 200 }
		);
	});

	test('a wish far above every rate, or far below, is answered with the nearest end', () => {
		const asked = (wished: Rational): PeriodWish => ({
			kernel: Rational.int(72_000_000),
			counting: { mode: 'up', rule: 'inclusive', width: 16 },
			wish: wished
		});
		const table = tableOf(Float64Array.from({ length: 65_536 }, (_, i) => i + 1));
		const fast = topPeriods(asked(Rational.of(10n ** 30n)), table, { keep: 3 }).best;
		expect(fast.map((c) => `${c.prescale}/${c.reload}`)).toEqual(['1/1', '1/2', '1/3']);
		const slow = topPeriods(asked(Rational.of(1n, 10n ** 30n)), table, { keep: 1 }).best;
		expect(slow.map((c) => `${c.prescale}/${c.reload}`)).toEqual(['65536/65535']);
	});

	test('two products on either side of the wish at the same |error|: the larger T first', () => {
		// f_k / wish = 24/5 = 4.8 lies between 4 and 6 at the same error: 1/4 - 5/24 = 1/24 = 5/24 - 1/6.
		const asked: PeriodWish = { kernel: Rational.int(24), counting: { mode: 'up', rule: 'exclusive', width: 4 }, wish: Rational.int(5) };
		const { best } = topPeriods(asked, tableOf(Float64Array.of(2)), { keep: 2 });
		expect(best.map((c) => `${c.prescale}/${c.reload} ${c.ppm}`)).toEqual(['2/3 -200000/1', '2/2 200000/1']);
	});

	const wide: PeriodWish = {
		kernel: Rational.int(72_000_000),
		counting: { mode: 'up', rule: 'inclusive', width: 16 },
		wish: Rational.int(1200)
	};
	const table = ratioTable({ kind: 'linear', max: 65_536 });

	test('the demo: 72 MHz to 1.2 kHz is exact in many ways, the largest T first', () => {
		// N = 60000 = 2^5 x 3 x 5^4 has 6 x 2 x 5 = 60 divisors; T = 1 is none, its reload would be 0: 59 pairs.
		const { best, exact } = topPeriods(wide, table, { keep: 3 });
		expect(exact).toBe(59);
		expect(best.map((c) => [c.prescale, c.reload])).toEqual([
			[1, 59999],
			[2, 29999],
			[3, 19999]
		]);
	});

	test('beyond all reach the nearest end is the answer', () => {
		const slow = topPeriods({ ...wide, wish: Rational.ratio(1, 10 ** 9) }, table, { keep: 2 }).best;
		expect(slow.map((c) => [c.prescale, c.reload])).toEqual([
			[65_536, 65_535],
			[65_535, 65_535]
		]);
		const fast = topPeriods({ ...wide, wish: Rational.int(10 ** 9) }, table, { keep: 2 }).best;
		expect(fast.map((c) => [c.prescale, c.reload])).toEqual([
			[1, 1],
			[1, 2]
		]);
	});

	test('a wish of nothing or less is refused', () => {
		expect(() => topPeriods({ ...wide, wish: Rational.zero }, table, { keep: 1 })).toThrow(RangeError);
	});
});

describe('periodFront', () => {
	test('has the best reload of every prescale (seed 99)', () => {
		fc.assert(
			fc.property(wish, ratios, (asked, list) => {
				const front = periodFront(asked, tableOf(list));
				const all = allPairs(asked, list);
				list.forEach((prescale, i) => {
					const best = all.find((c) => c.prescale === prescale)!;
					expect([front.prescale[i], front.reload[i], front.ticks[i]]).toEqual([prescale, best.reload, best.ticks]);
					expect(front.ppm[i]).toBeCloseTo(best.ppm.toNumber(), 3);
				});
			}),
			{ seed: 99, numRuns: 300 }
		);
	});

	test('products past what plain numbers hold are never looked at', () => {
		const huge = tableOf(Float64Array.of(1, 2 ** 30));
		const asked = (wish: Rational): PeriodWish => ({
			kernel: Rational.int(1),
			counting: { mode: 'up', rule: 'inclusive', width: 32 },
			wish
		});
		// One event in 2^60 s: the longest that stays below 2^52.
		const [best] = topPeriods(asked(Rational.of(1n, 2n ** 60n)), huge, { keep: 3 }).best;
		expect(best.prescale * best.ticks).toBe(2 ** 52);
		const { ticks, prescale } = periodFront(asked(Rational.of(1n, 2n ** 51n)), huge);
		expect([...prescale].map((p, i) => p * ticks[i])).toEqual([2 ** 32, 2 ** 51]);
	});
});
