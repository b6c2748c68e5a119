import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { TraceBuilder, type Level, type Trace } from '../trace/index.js';
import { measureDelay, measureGap, measurePulses } from './index.js';

const NS = Rational.of(1n, 10n ** 9n);

function build(initial: Level, edges: [number, Level][]): Trace {
	const builder = new TraceBuilder(initial);
	for (const [time, level] of edges) builder.add(time, level);
	return builder.finish({ unit: NS, start: 0, end: 10 ** 9 });
}

/** Rises at the times given, each high for `high`. */
function pulses(rises: number[], high: number): Trace {
	return build(
		0,
		rises.flatMap((t): [number, Level][] => [
			[t, 1],
			[t + high, 0]
		])
	);
}

const all = { start: 0, end: 10 ** 9 };

describe('measurePulses', () => {
	test('one period of 10 ns high for 3: by hand', () => {
		const m = measurePulses(
			pulses(
				[0, 10, 20].map((t) => t + 5),
				3
			),
			all
		);
		expect(m.period).toMatchObject({ count: 2, deviation: 0, rounded: false });
		expect([m.period!.mean, m.frequency!.mean, m.high!.mean, m.low!.mean, m.duty!.mean].map(String)).toEqual([
			'1/100000000',
			'100000000/1',
			'3/1000000000',
			'7/1000000000',
			'3/10'
		]);
	});

	test('counts whole periods only, and rises on the first moment but not on the end', () => {
		const trace = pulses([10, 20, 30, 40], 5);
		expect(measurePulses(trace, { start: 10, end: 40 })).toMatchObject({ rises: 3, period: { count: 2 } });
		expect(measurePulses(trace, { start: 11, end: 41 })).toMatchObject({ rises: 3, period: { count: 2 } });
		expect(measurePulses(trace, { start: 11, end: 20 })).toMatchObject({ rises: 0, period: null, frequency: null, duty: null });
	});

	test('a stretch of unknown level ends its period without counting it', () => {
		const trace = build(0, [
			[10, 1],
			[15, 0],
			[20, 1],
			[22, 2],
			[25, 0],
			[30, 1],
			[35, 0],
			[40, 1]
		]);
		// Rises at 10, 20, 30, 40; the period 20..30 holds an unknown stretch.
		expect(measurePulses(trace, all)).toMatchObject({ rises: 4, period: { count: 2 } });
	});

	test('the spread of 9, 10 and 11 ns is sqrt(2/3) ns', () => {
		const m = measurePulses(
			pulses(
				[0, 9, 19, 30].map((t) => t + 1),
				2
			),
			all
		);
		expect(m.period!.deviation).toBeCloseTo(Math.sqrt(2 / 3) * 1e-9, 18);
		expect([m.period!.min, m.period!.max].map(String)).toEqual(['9/1000000000', '11/1000000000']);
	});

	test('means are those of plain fractions (seed 21)', () => {
		const steps = fc.array(fc.tuple(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 1, max: 500 })), { minLength: 1, maxLength: 40 });
		fc.assert(
			fc.property(steps, (list) => {
				let time = 1;
				const edges: [number, Level][] = [];
				for (const [high, low] of list) {
					edges.push([time, 1], [time + high, 0]);
					time += high + low;
				}
				edges.push([time, 1]);
				const m = measurePulses(build(0, edges), all);
				const count = Rational.int(list.length);
				const sum = (values: Rational[]) => values.reduce((a, b) => a.add(b), Rational.zero);
				expect(String(m.duty!.mean)).toBe(String(sum(list.map(([h, l]) => Rational.ratio(h, h + l))).div(count)));
				expect(String(m.period!.mean)).toBe(
					String(
						sum(list.map(([h, l]) => Rational.int(h + l)))
							.div(count)
							.mul(NS)
					)
				);
				const duties = list.map(([h, l]) => Rational.ratio(h, h + l)).sort((a, b) => a.compare(b));
				expect([m.duty!.min, m.duty!.max].map(String)).toEqual([duties[0], duties.at(-1)].map(String));
			}),
			{ seed: 21 }
		);
	});

	test('a mean of very many different fractions is rounded, and says so', () => {
		const rises = Array.from({ length: 700 }, (_, i) => 10 * i + (i * (i + 1)) / 2);
		const m = measurePulses(
			pulses(
				rises.map((t) => t + 1),
				5
			),
			all
		);
		expect(m.duty!.rounded).toBe(true);
		const plain = rises.slice(1).map((t, i) => 5 / (t - rises[i]));
		expect(m.duty!.mean.toNumber()).toBeCloseTo(plain.reduce((a, b) => a + b, 0) / plain.length, 13);
		expect(m.period!.rounded).toBe(false);
	});

	test('sums past 2^53 stay exact', () => {
		const far = 2 ** 52;
		const m = measurePulses(
			build(0, [
				[1, 1],
				[2, 0],
				[far, 1],
				[far + 1, 0],
				[2 * far - 2, 1]
			]),
			{ start: 0, end: 2 ** 53 }
		);
		expect(m.period!.count).toBe(2);
		expect(m.period!.mean.toString()).toBe(Rational.of(2n ** 53n - 3n, 2n * 10n ** 9n).toString());
	});
});

describe('two lines', () => {
	test('a third of a period later is 120 degrees', () => {
		const lead = pulses(
			[0, 30, 60, 90].map((t) => t + 1),
			10
		);
		const follow = pulses(
			[10, 40, 70].map((t) => t + 1),
			10
		);
		const { delay, phase } = measureDelay(follow, lead, all);
		expect([delay!.count, String(delay!.mean), String(phase!.mean)]).toEqual([3, '1/100000000', '120/1']);
	});

	test('an overlap is no gap', () => {
		const main = pulses(
			[0, 20, 40].map((t) => t + 1),
			8
		);
		const other = build(0, [
			[13, 1],
			[19, 0],
			[28, 1],
			[39, 0],
			[51, 1]
		]);
		// Falls at 9, 29, 49: gaps 4, none (28 lies before the fall; the next rise, 51, after the main rises again), 2.
		const gap = measureGap(main, other, all)!;
		expect([gap.count, String(gap.min), String(gap.max)]).toEqual([2, '1/500000000', '1/250000000']);
	});

	test('lines of different units are refused', () => {
		const coarse = new TraceBuilder(0).finish({ unit: Rational.one, start: 0, end: 1 });
		expect(() => measureGap(coarse, pulses([1], 1), all)).toThrow('cannot be related');
	});
});
