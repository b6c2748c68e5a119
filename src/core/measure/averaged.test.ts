import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { PeriodicWave } from '../trace/index.js';
import { averaged, cornerOf, filteredSpectrum, gain, segmentsOf, spectrumOf, type Filter, type Segment } from './index.js';

const rc: Filter = { kind: 'rc', resistance: 1000, capacitance: 1e-6 };
const lc: Filter = { kind: 'lc', resistance: 50, capacitance: 1e-6, inductance: 1e-2 };
/** High for 0.3 ms of 1 ms. */
const pulse: Segment[] = [
	{ from: 0, to: 0.0003, value: 1 },
	{ from: 0.0003, to: 0.001, value: 0 }
];

/** The slow twin: small steps of time until it repeats. */
function stepped(segments: readonly Segment[], filter: Filter, count: number): number[] {
	const period = segments.at(-1)!.to;
	const steps = 20_000;
	const dt = period / steps;
	let [v, i] = [0, 0];
	let kept: number[] = [];
	for (let round = 0; round < 40; round++) {
		kept = [];
		for (let k = 0; k < steps; k++) {
			const t = (k + 0.5) * dt;
			if (k % (steps / count) === 0) kept.push(v);
			const u = segments.find(({ from, to }) => t >= from && t < to)!.value;
			if (filter.kind === 'rc') v += ((u - v) * dt) / (filter.resistance * filter.capacitance);
			else {
				i += ((u - v) / filter.inductance) * dt;
				v += (i / filter.capacitance - v / (filter.resistance * filter.capacitance)) * dt;
			}
		}
	}
	return kept;
}

describe('the averaged signal', () => {
	test.each([
		['rc', rc],
		['lc', lc],
		['lc, hardly damped', { ...lc, resistance: 400 }],
		['lc, far damped', { ...lc, resistance: 10 }]
	])('%s agrees with small steps of time', (_, filter) => {
		const [exact, slow] = [averaged(pulse, filter, 40), stepped(pulse, filter, 40)];
		exact.forEach((value, i) => expect(Math.abs(value - slow[i])).toBeLessThan(5e-4));
	});
	test('its ripple by hand: between two levels that e to the -t / RC joins', () => {
		// v rises for 0.3 ms and falls for 0.7 ms at a time constant of 1 ms.
		const low = ((1 - Math.exp(-0.3)) * Math.exp(-0.7)) / (1 - Math.exp(-1));
		expect(averaged(pulse, rc, 10)[0]).toBeCloseTo(low, 12);
		expect(averaged(pulse, rc, 10)[3]).toBeCloseTo(1 - (1 - low) * Math.exp(-0.3), 12);
	});
	test('harmonics of a pulse are 2 sin(pi k d) / (pi k), its mean is its duty', () => {
		const { amplitudes, mean, base } = spectrumOf(pulse, 8);
		expect(mean).toBeCloseTo(0.3, 12);
		expect(base).toBeCloseTo(1000, 9);
		amplitudes.forEach((a, i) => expect(a).toBeCloseTo(Math.abs((2 * Math.sin(Math.PI * (i + 1) * 0.3)) / (Math.PI * (i + 1))), 12));
	});
	test('a square wave is distorted by root(pi^2 / 8 - 1) = 48.34 %', () => {
		const half = [
			{ ...pulse[0], to: 0.0005 },
			{ ...pulse[1], from: 0.0005 }
		];
		expect(spectrumOf(half, 20_000).distortion).toBeCloseTo(Math.sqrt(Math.PI ** 2 / 8 - 1), 4);
	});
	test('behind the filter each harmonic is as large as the samples say', () => {
		const samples = averaged(pulse, lc, 4000);
		const { amplitudes } = filteredSpectrum(spectrumOf(pulse, 3), lc);
		[1, 2, 3].forEach((k, i) => {
			const sum = (f: (x: number) => number) => samples.reduce((all, v, n) => all + v * f((2 * Math.PI * k * n) / 4000), 0) / 2000;
			expect(Math.hypot(sum(Math.cos), sum(Math.sin))).toBeCloseTo(amplitudes[i], 4);
		});
	});
	test('corners', () => {
		expect(gain(rc, cornerOf(rc))).toBeCloseTo(Math.SQRT1_2, 12);
		expect(cornerOf(lc)).toBeCloseTo(1591.549, 3);
	});
	test('segments come from levels, and from the difference of two', () => {
		const unit = Rational.ratio(1, 1000);
		const one = new PeriodicWave(unit, 10, [2, 5], [1, 0], 0);
		const other = new PeriodicWave(unit, 10, [4, 7], [1, 0], 0);
		const plain = ({ from, to, value }: Segment) => [Math.round(from * 1000), Math.round(to * 1000), value];
		expect(segmentsOf(one, 20, 30).map(plain)).toEqual([
			[0, 2, 0],
			[2, 5, 1],
			[5, 10, 0]
		]);
		expect(segmentsOf(one, 20, 30, other).map(plain)).toEqual([
			[0, 2, 0],
			[2, 4, 1],
			[4, 5, 0],
			[5, 7, -1],
			[7, 10, 0]
		]);
	});
});
