import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../../exact/index.js';
import { TraceBuilder, type Level, type Trace } from '../../trace/index.js';
import { measureDelay, measureGap, measurePulses } from '../index.js';
import { binsOf, CARD_KINDS, cardOf, summarise, trendOf, type CardKind } from './index.js';

const US = Rational.of(1n, 1_000_000n);

function line(initial: Level, edges: readonly [number, Level][], end = 1000): Trace {
	const builder = new TraceBuilder(initial);
	for (const [time, level] of edges) builder.add(time, level);
	return builder.finish({ unit: US, start: 0, end });
}

const all = { start: 0, end: 1_000_000 };
const measured = (
	kind: CardKind,
	trace: Trace,
	{ other, limit = 0, window = all }: { other?: Trace; limit?: number; window?: typeof all } = {}
) => {
	const series = cardOf(kind).series!({ trace, ...(other && { other }), window, limit });
	return Array.from(series.parts, (part, i) => [series.at[i], series.wholes ? part / series.wholes[i] : part]);
};

describe('cards by hand', () => {
	// High 10..15, 30..32, 33..50, then bouncing from 200 on: 200, 203, 204, 210.
	const a = line(0, [
		[10, 1],
		[15, 0],
		[30, 1],
		[32, 0],
		[33, 1],
		[50, 0],
		[200, 1],
		[203, 0],
		[204, 1],
		[210, 0]
	]);
	const b = line(0, [
		[12, 1],
		[31, 0],
		[52, 1],
		[205, 0]
	]);

	test.each<[CardKind, number, number[][]]>([
		[
			'glitches',
			3,
			[
				[30, 2],
				[32, 1],
				[203, 1]
			]
		],
		[
			'pauses',
			14,
			[
				[15, 15],
				[33, 17],
				[50, 150]
			]
		],
		// Parted by more than 14: 10 15 | 30 32 33 | 50 | 200 203 204 210.
		[
			'bursts',
			14,
			[
				[10, 1],
				[30, 2],
				[50, 0],
				[200, 2]
			]
		],
		[
			'bounce',
			14,
			[
				[10, 5],
				[30, 3],
				[200, 10]
			]
		],
		[
			'period',
			0,
			[
				[10, 20],
				[30, 3],
				[33, 167],
				[200, 4]
			]
		],
		[
			'high',
			0,
			[
				[10, 5],
				[30, 2],
				[33, 17],
				[200, 3]
			]
		]
	])('%s', (kind, limit, want) => expect(measured(kind, a, { limit })).toEqual(want));

	test('of two lines', () => {
		// From the rises of b at 12 and 52: the rise of a at 30 comes before 52.
		expect(measured('delay', a, { other: b })).toEqual([[12, 18]]);
		expect(measured('phase', a, { other: b })).toEqual([[12, 18 / 40]]);
		// a falls at 15, 32, 50, 203, 210; b rises at 52 only behind 50.
		expect(measured('gap', a, { other: b })).toEqual([[50, 2]]);
		expect(measured('overlap', a, { other: b })).toEqual([
			[12, 3],
			[30, 1],
			[200, 3],
			[204, 1]
		]);
	});

	test('a stretch of unknown level is part of none', () => {
		const torn = line(0, [
			[10, 1],
			[15, 0],
			[20, 2],
			[25, 0],
			[30, 1],
			[35, 0],
			[50, 1]
		]);
		expect(measured('period', torn)).toEqual([[30, 20]]);
		expect(measured('glitches', torn, { limit: 100 })).toEqual([
			[10, 5],
			[30, 5],
			[35, 15]
		]);
	});

	test('only what lies in the window counts', () =>
		expect(measured('period', a, { window: { start: 30, end: 205 } })).toEqual([
			[30, 3],
			[33, 167],
			[200, 4]
		]));
});

const edges = fc
	.array(fc.tuple(fc.integer({ min: 1, max: 40 }), fc.constantFrom<Level>(0, 1, 1, 0, 2)), { minLength: 2, maxLength: 80 })
	.map((list) => {
		let time = 0;
		return line(
			0,
			list.map(([step, level]): [number, Level] => [(time += step), level]),
			time + 1
		);
	});

describe('cards', () => {
	test('give what the measures of a verdict give (seed 31)', () => {
		fc.assert(
			fc.property(edges, edges, (a, b) => {
				const window = { start: 5, end: 900 };
				const pulses = measurePulses(a, window);
				const { delay, phase } = measureDelay(a, b, window);
				const wanted = { ...pulses, delay, phase };
				for (const kind of ['period', 'frequency', 'high', 'low', 'duty', 'delay', 'phase'] as const) {
					const found = summarise(cardOf(kind).series!({ trace: a, other: b, window, limit: 0 }), US);
					const { count, mean, min, max } = found ?? { count: 0, mean: null, min: null, max: null };
					expect([kind, count, mean, min, max].map(String)).toEqual(
						[kind, wanted[kind]?.count ?? 0, wanted[kind]?.mean ?? null, wanted[kind]?.min ?? null, wanted[kind]?.max ?? null].map(String)
					);
				}
			}),
			{ seed: 31, numRuns: 300 }
		);
	});

	test('give the gap of a verdict, none where a part of it is unknown (seed 32)', () => {
		fc.assert(
			fc.property(edges, edges, (a, b) => {
				const found = summarise(cardOf('gap').series!({ trace: a, other: b, window: all, limit: 0 }), US);
				expect(String(found?.mean)).toBe(String(measureGap(a, b, all)?.mean));
			}),
			{ seed: 32, numRuns: 300 }
		);
	});

	test('sum up to what a plain two-pass evaluation gives, in every kind (seed 33)', () => {
		fc.assert(
			fc.property(edges, edges, fc.constantFrom(...CARD_KINDS.filter((kind) => !cardOf(kind).samples)), (a, b, kind) => {
				const series = cardOf(kind).series!({ trace: a, other: b, window: all, limit: 12 });
				const found = summarise(series, US);
				if (series.parts.length === 0) return void expect(found).toBeNull();
				const scale = series.kind === 'time' ? 1e-6 : series.kind === 'degrees' ? 360 : 1;
				const values = Array.from(series.parts, (part, i) =>
					series.kind === 'rate' ? 1e6 / part : series.wholes ? (part / series.wholes[i]) * scale : part * scale
				);
				const sorted = [...values].sort((x, y) => x - y);
				const half = sorted.length >> 1;
				const near = (value: number, want: number) =>
					expect(Math.abs(value - want)).toBeLessThanOrEqual(1e-12 * Math.max(1e-6, Math.abs(want)));
				near(found!.median.toNumber(), sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2);
				near(found!.min.toNumber(), sorted[0]);
				near(found!.max.toNumber(), sorted[sorted.length - 1]);
				if (series.kind !== 'rate') {
					const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
					near(found!.mean.toNumber(), mean);
					const variance = values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length;
					expect(Math.abs(found!.deviation - Math.sqrt(variance))).toBeLessThanOrEqual(1e-9 * Math.max(1e-6, Math.sqrt(variance)));
				}
				expect(values[series.at.indexOf(found!.maxAt)]).toBe(sorted[sorted.length - 1]);
				expect(binsOf(series, 20).counts.reduce((sum, count) => sum + count, 0)).toBe(values.length);
				const trend = trendOf(series, 10);
				expect(trend.length).toBeLessThanOrEqual(12);
				expect(trend.map(({ at }) => at)).toEqual(trend.map(({ at }) => at).sort((x, y) => x - y));
			}),
			{ seed: 33, numRuns: 400 }
		);
	});
});
