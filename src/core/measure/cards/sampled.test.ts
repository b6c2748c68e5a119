import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../../exact/index.js';
import { SampleMeter, summarise, type SampledOf } from './index.js';

const US = Rational.of(1n, 1_000_000n);
const all = { start: 0, end: 1e9 };
const measured = (of: SampledOf, values: number[], { levels = { low: 0, high: 3 }, window = all, cut = values.length } = {}) => {
	const meter = new SampleMeter(of, levels, window);
	const times = values.map((_, i) => 10 * i);
	// In two blocks: what is measured goes on over their border.
	for (const [from, to] of [
		[0, cut],
		[cut, values.length]
	])
		if (to > from) meter.push({ times: Float64Array.from(times.slice(from, to)), values: Float32Array.from(values.slice(from, to)) });
	const { at, parts } = meter.finish();
	return Array.from(parts, (part, i) => [at[i], Number(part.toPrecision(6))]);
};

// Low, a ramp of three steps up, high with a droop, down in one step, low.
const PULSE = [0, 0.1, 0, 1, 2, 3, 3, 2.8, 0, 0, 0.1, 3, 3];

describe('an analogue line', () => {
	test('has the level of every whole high and low stretch, edges left out', () => {
		expect(measured('top', PULSE)).toEqual([[50, Number(((3 + 3 + 2.8) / 3).toPrecision(6))]]);
		expect(measured('base', PULSE)).toEqual([
			[0, Number((0.1 / 3).toPrecision(6))],
			[80, Number((0.1 / 3).toPrecision(6))]
		]);
	});
	test('has a slew for every edge, between a tenth and nine tenths of the way', () => {
		// 0.3 to 2.7 on a ramp of 1 a sample of 10.
		expect(measured('rise', PULSE)[0]).toEqual([23, 0.1]);
		expect(measured('rise', PULSE)).toHaveLength(2);
		expect(measured('fall', PULSE)).toEqual([[expect.closeTo(70.36, 1), 0.28]]);
	});
	test('knows nothing across samples without a value, and nothing outside of its window', () => {
		expect(measured('rise', [0, 0, NaN, 3, 3, 0])).toEqual([]);
		expect(measured('top', PULSE, { window: { start: 60, end: 1e9 } })).toEqual([[60, Number(((3 + 2.8) / 2).toPrecision(6))]]);
	});
	test('is measured the same in whatever blocks it comes', () => {
		fc.assert(
			fc.property(fc.array(fc.double({ min: -1, max: 4, noNaN: true }), { minLength: 2, maxLength: 60 }), fc.nat(60), (values, at) => {
				const cut = Math.min(at, values.length);
				for (const of of ['top', 'base', 'rise', 'fall'] as const) {
					const found = measured(of, values, { cut });
					expect(found).toEqual(measured(of, values));
					for (const [, value] of found) expect(of === 'rise' || of === 'fall' ? value > 0 : value === value).toBe(true);
				}
			})
		);
	});
	test('is summed up as what it is, rounded', () => {
		const meter = new SampleMeter('rise', { low: 0, high: 3 }, all);
		meter.push({ times: Float64Array.from(PULSE.map((_, i) => 10 * i)), values: Float32Array.from(PULSE) });
		const found = summarise(meter.finish(), US)!;
		// 0.1 a microsecond and 0.29: 100 kV/s and 290 kV/s.
		expect([found.count, found.rounded, found.min.toNumber(), found.max.toNumber()]).toEqual([
			2,
			true,
			expect.closeTo(1e5, 2),
			expect.closeTo(290_000, -3)
		]);
	});
});
