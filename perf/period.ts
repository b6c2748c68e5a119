import { Rational } from '../src/core/exact/index.js';
import { periodFront, ratioTable, topPeriods, type PeriodWish } from '../src/core/solve/index.js';
import type { Report } from './report.js';

/** A fixed linear congruence: the same wishes in every run. */
function* numbers(seed: number): Generator<number> {
	for (let x = seed; ;) {
		x = (Math.imul(x, 1_664_525) + 1_013_904_223) >>> 0;
		yield x;
	}
}

export function wishes(count: number): PeriodWish[] {
	const random = numbers(2026);
	const next = () => random.next().value as number;
	const counting = { mode: 'up', rule: 'inclusive', width: 16 } as const;
	return Array.from({ length: count }, () => {
		const kernel = Rational.int(8_000_000 + (next() % 200_000_000));
		// From 0.05 Hz to 500 kHz, evenly over the decades, each a fraction no divider hits by luck.
		const decade = 10 ** (next() % 7);
		return { kernel, counting, wish: Rational.ratio(1 + (next() % 49_999), 1_000_000).mul(Rational.int(decade * 10)) };
	});
}

/** The 50 best of all 2^32 pairs, and the best reload of every prescale: ms a wish, mean over all wishes. */
export function benchPeriods(report: Report): void {
	const table = ratioTable({ kind: 'linear', max: 65_536 });
	const asked = wishes(1000);
	for (const wish of asked.slice(0, 50)) topPeriods(wish, table, { keep: 50 });
	let start = performance.now();
	for (const wish of asked) topPeriods(wish, table, { keep: 50 });
	report('period_top_16x16', (performance.now() - start) / asked.length, 'ms');

	for (const wish of asked.slice(0, 50)) periodFront(wish, table);
	start = performance.now();
	for (const wish of asked) periodFront(wish, table);
	report('period_front_16x16', (performance.now() - start) / asked.length, 'ms');
}
