import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { listLines as lines, readInPieces } from '../../../tests/unit/formats.js';
import { Rational } from '../exact/index.js';
import { SampleColumns, packSamples, unpackSamples, type SampleBlock } from '../trace/index.js';
import { Cutter, readAll, type ReadSettings } from './index.js';
import { HistogramBuilder } from './histogram.js';

const US = Rational.of(1n, 1_000_000n);
const csv = (values: readonly number[]) => `time (us),v\n${values.map((value, i) => `${i},${value}`).join('\n')}\n`;
const read = (text: string, settings?: ReadSettings) => readInPieces(text, 1 << 20, settings);

/** Eight samples at each of two levels, over and over; a little noise of known size. */
function square(periods: number, low: number, high: number, noise = 0, droop = 0): number[] {
	return Array.from({ length: 16 * periods }, (_, i) => (i % 16 < 8 ? low : high) + noise * (((i * 7) % 5) / 4 - 0.5) - droop * i);
}

describe('levels of samples', () => {
	test('are learnt from all of the line, whatever its beginning', () => {
		// 2000 idle samples with a step of 0.1 V among them, then the signal.
		const idle = Array.from({ length: 2000 }, (_, i) => (i % 3 === 0 ? 0.1 : 0));
		const recording = read(csv([...idle, ...square(400, 0, 3.3)]));
		expect(recording.lines[0].slicing!.threshold).toBeCloseTo(1.65, 6);
		expect(recording.lines[0].edges).toBe(799);
	});

	test('are not moved by a spike', () => {
		const values = square(200, 0, 3);
		values[1003] = 40;
		expect(read(csv(values)).lines[0].slicing).toMatchObject({ low: 0, high: 3, threshold: 1.5 });
	});

	test('that droop want a threshold that follows, or one set by hand', () => {
		// 200 periods that sink by 6 V, over a swing of 2 V.
		const values = square(200, -1, 1, 0, 6 / 3200);
		expect(read(csv(values)).lines[0].edges).toBeLessThan(300);
		const followed = read(csv(values), { lines: { 1: { follow: 40e-6, hysteresis: 0.2 } } });
		expect(followed.lines[0].edges).toBe(399);
		expect(followed.lines[0].slicing).toMatchObject({ follow: 40e-6, hysteresis: 0.2 });
	});

	test('by hand', () => {
		const values = [0, 0, 1, 2, 3, 3, 3, 2, 1, 0, 0];
		expect(lines(read(csv(values), { lines: { 1: { threshold: 0.5, hysteresis: 0.2 } } }))).toEqual(['v 0 1500000:1 8500000:0']);
		expect(lines(read(csv(values), { lines: { 1: { threshold: 2.5, hysteresis: 0.2 } } }))).toEqual(['v 0 3500000:1 6500000:0']);
	});

	test('are unknown where a sample is', () => {
		expect(lines(read('time (us),v\n0,0\n1,5\n2,5\n3,NA\n4,0\n5,0\n6,5\n'))).toEqual(['v 0 500000:1 3000000:x 4000000:0 5500000:1']);
	});
});

describe('the step of interpolated edges (timers.md 11)', () => {
	test('is a tenth of a sample, or noise over slope', () => {
		// 30 samples at each level with noise of 0.4 V from top to bottom, one sample between: 3 V in two samples.
		const value = (i: number) =>
			(i % 62 === 30 || i % 62 === 61 ? 1.5 : i % 62 < 30 ? 0 : 3) + (i % 31 === 30 ? 0 : 0.4 * (((i * 3) % 5) / 4 - 0.5));
		const recording = read(csv(Array.from({ length: 620 }, (_, i) => value(i))));
		const { step } = recording.lines[0];
		expect([step!.raster, recording.resolution].map(String)).toEqual(['1/1000000', '1/1000000']);
		// The crossing from 0 to 1.5 V or on to 3 V, give or take 0.2 V: at least 1.3 V a sample.
		const samples = step!.step.div(US).toNumber();
		expect(samples).toBeGreaterThan(0.4 / 1.7);
		expect(samples).toBeLessThan(0.4 / 1.29);
	});

	test('of quiet lines', () => {
		const sloping = Array.from({ length: 640 }, (_, i) => (i % 16 === 7 ? 1 : i % 16 === 15 ? 2 : i % 16 < 8 ? 0 : 3));
		expect(String(read(csv(sloping)).lines[0].step!.step)).toBe('1/10000000');
	});
	test('is a whole sample where the line jumps from level to level between two of them', () =>
		expect(String(read(csv(square(40, 0, 3))).lines[0].step!.step)).toBe('1/1000000'));
	test('can be set by hand', () => {
		const recording = read(csv([0, 1, 0, 1, 0]), { step: '5e-6' });
		expect([String(recording.resolution), recording.stepFrom]).toEqual(['1/200000', 'hand']);
	});
});

describe('histogram', () => {
	test('counts every value once, in any order (seed 6)', () => {
		fc.assert(
			fc.property(fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 300 }), (values) => {
				const builder = new HistogramBuilder();
				values.forEach((value) => builder.add(value));
				const found = builder.finish();
				if (new Set(values).size === 1) return void expect(found).toBeUndefined();
				expect(found!.counts.reduce((sum, count) => sum + count, 0)).toBe(values.length);
				expect(found!.from).toBeLessThanOrEqual(Math.min(...values));
				expect(found!.to).toBeGreaterThanOrEqual(Math.max(...values));
			}),
			{ seed: 6 }
		);
	});
});

describe('packed samples', () => {
	test('come back as they were (seed 7)', () => {
		const block = fc
			.array(fc.tuple(fc.integer({ min: 0, max: 2 ** 40 }), fc.float({ noDefaultInfinity: true })), { minLength: 1, maxLength: 300 })
			.map((list): SampleBlock => {
				let time = -5;
				return { times: Float64Array.from(list, ([step]) => (time += step)), values: Float32Array.from(list, ([, value]) => value) };
			});
		fc.assert(
			fc.property(block, block, (a, b) => {
				const bytes = new Uint8Array([...packSamples(a), ...packSamples(b)]);
				expect(unpackSamples(bytes)).toEqual([a, b]);
				expect(() => unpackSamples(bytes.subarray(0, bytes.length - 8))).toThrow(RangeError);
			}),
			{ seed: 7 }
		);
	});

	test('make columns that hold all that lies in them, and the lines between', () => {
		const columns = new SampleColumns(0, 10, 5);
		columns.add({ times: Float64Array.of(5, 7, 35), values: Float32Array.of(1, 2, 30) });
		// From 2 at 7 to 30 at 35: one a unit.
		expect([...columns.bounds]).toEqual([1, 5, 5, 15, 15, 25, 25, 30, NaN, NaN]);
	});
});

describe('cutting again', () => {
	test('gives what reading with the same settings does (seed 8)', () => {
		const sample = fc.integer({ min: 0, max: 30 });
		fc.assert(
			fc.property(fc.array(sample, { minLength: 3, maxLength: 200 }), fc.integer({ min: 1, max: 29 }), (tenths, threshold) => {
				const text = csv(tenths.map((value) => value / 10));
				const told = { lines: { 1: { threshold: threshold / 10, hysteresis: 0.25 } } };
				const [found] = read(text, told).lines;
				if (!found.slicing) return;
				const cutter = new Cutter(found.slicing, found.trace.unit);
				found.blocks!.forEach((block) => cutter.push(block));
				expect(cutter.finish(found.trace.meta, undefined).trace.chunks).toEqual(found.trace.chunks);
			}),
			{ seed: 8 }
		);
	});
});

describe('readAll', () => {
	test('reads a dump that lasts too long for its steps in coarser ones, and says so', async () => {
		const text = `$timescale 1 fs $end $var wire 1 ! a $end $enddefinitions $end #0 0! #1499 1! #20000000000000000000 0! #20000000000000001000 1!\n`;
		const open = async function* () {
			await Promise.resolve();
			yield* [Buffer.from(text)];
		};
		const { recording, settings } = await readAll({ open });
		expect([String(recording.unit), settings.coarser]).toEqual(['1/1000000000', 1_000_000]);
		expect([lines(recording), recording.notes]).toEqual([['a 1'], [{ code: 'rounded-times', count: 2, name: '1/1000000000 s' }]]);
	});
});
