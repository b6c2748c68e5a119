import type { LevelSource } from '../trace/index.js';

/**
 * What a filter makes of a pin that repeats: the averaged signal in its steady state, its spectrum and distortion. The
 * response between two edges is solved in closed form, so nothing hangs on a step of time; what comes out are plain
 * doubles, in parts of the supply.
 */

/** A level that is held from `from` to `to`, in seconds from the beginning of the period. */
export interface Segment {
	from: number;
	to: number;
	value: number;
}

/** Ohms, farads and henries. `rc`: resistor, then capacitor. `lc`: coil, then capacitor with the resistor as the load across it. */
export type Filter =
	{ kind: 'rc'; resistance: number; capacitance: number } | { kind: 'lc'; resistance: number; capacitance: number; inductance: number };

/** The levels of a source, or of one source less another, in from..to (excluded), units of the first. An unknown level counts as low. */
export function segmentsOf(source: LevelSource, from: number, to: number, less?: LevelSource): Segment[] {
	const unit = source.unit.toNumber();
	const turns = new Set<number>([from]);
	for (const one of less ? [source, less] : [source])
		for (let edge = one.edgesBefore(from + 1); edge < one.edgesBefore(to); edge++) turns.add(one.edgeTime(edge));
	const times = [...turns].sort((a, b) => a - b);
	const level = (one: LevelSource, t: number) => (one.levelAfter(one.edgesBefore(t + 1)) === 1 ? 1 : 0);
	return times.map((time, i) => ({
		from: (time - from) * unit,
		to: ((times[i + 1] ?? to) - from) * unit,
		value: level(source, time) - (less ? level(less, time) : 0)
	}));
}

/** Values of the filtered signal at `count` even times of the period, once it repeats. */
export function averaged(segments: readonly Segment[], filter: Filter, count: number): number[] {
	const period = segments[segments.length - 1].to;
	const begin = steadyState(segments, filter);
	const found: number[] = [];
	let state = begin;
	let next = 0;
	for (const { from, to, value } of segments) {
		for (; next < count && (next * period) / count < to; next++)
			found.push(advance(filter, state, value, (next * period) / count - from)[0]);
		state = advance(filter, state, value, to - from);
	}
	return found;
}

/** The state with which a period begins and ends: voltage, and the coil's current. */
function steadyState(segments: readonly Segment[], filter: Filter): [number, number] {
	const run = (start: [number, number]) =>
		segments.reduce<[number, number]>((state, { from, to, value }) => advance(filter, state, value, to - from), start);
	// The period's end is an affine function of its beginning: three runs tell it.
	const [rest, one, two] = [run([0, 0]), run([1, 0]), run([0, 1])];
	const [a, c] = [one[0] - rest[0], one[1] - rest[1]];
	const [b, d] = [two[0] - rest[0], two[1] - rest[1]];
	const determinant = (1 - a) * (1 - d) - b * c;
	return [((1 - d) * rest[0] + b * rest[1]) / determinant, ((1 - a) * rest[1] + c * rest[0]) / determinant];
}

/** The state after a time at one level. */
function advance(filter: Filter, [v, i]: [number, number], level: number, time: number): [number, number] {
	if (filter.kind === 'rc') return [level + (v - level) * Math.exp(-time / (filter.resistance * filter.capacitance)), 0];
	const { resistance, capacitance, inductance } = filter;
	// v' = i / C - v / (R C), i' = (u - v) / L, about its resting point v = u, i = u / R.
	const [x, y] = [v - level, i - level / resistance];
	const [p, q] = [-1 / (resistance * capacitance), 1 / capacitance];
	const r = -1 / inductance;
	const half = p / 2;
	const square = half * half + q * r;
	const root = Math.sqrt(Math.abs(square));
	const damped = Math.exp(half * time);
	const even = damped * (square < 0 ? Math.cos(root * time) : Math.cosh(root * time));
	const odd = root === 0 ? damped * time : (damped * (square < 0 ? Math.sin(root * time) : Math.sinh(root * time))) / root;
	return [level + (even + odd * (p - half)) * x + odd * q * y, level / resistance + odd * r * x + (even - odd * half) * y];
}

export interface Spectrum {
	/** Hertz of the first harmonic: the period's own rate. */
	base: number;
	mean: number;
	/** Amplitudes of harmonic 1, 2 .. */
	amplitudes: number[];
	/** Root of the sum of the squares of harmonic 2 and up, by the first; NaN where there is no first. */
	distortion: number;
}

/** Harmonics 1 to `count` of the segments. */
export function spectrumOf(segments: readonly Segment[], count: number): Spectrum {
	const period = segments[segments.length - 1].to;
	const mean = segments.reduce((sum, { from, to, value }) => sum + value * (to - from), 0) / period;
	const amplitudes = Array.from({ length: count }, (_, i) => {
		const k = i + 1;
		let [re, im] = [0, 0];
		for (const { from, to, value } of segments) {
			if (value === 0) continue;
			const [a, b] = [(2 * Math.PI * k * from) / period, (2 * Math.PI * k * to) / period];
			re += value * (Math.sin(b) - Math.sin(a));
			im += value * (Math.cos(b) - Math.cos(a));
		}
		return Math.hypot(re, im) / (Math.PI * k);
	});
	return { base: 1 / period, mean, amplitudes, distortion: distortionOf(amplitudes) };
}

/** A spectrum as it is behind a filter. */
export function filteredSpectrum({ base, mean, amplitudes }: Spectrum, filter: Filter): Spectrum {
	const behind = amplitudes.map((a, i) => a * gain(filter, (i + 1) * base));
	return { base, mean, amplitudes: behind, distortion: distortionOf(behind) };
}

function distortionOf([first, ...rest]: readonly number[]): number {
	return first > 1e-12 ? Math.sqrt(rest.reduce((sum, a) => sum + a * a, 0)) / first : NaN;
}

/** Size of the filter's response at a frequency in hertz. */
export function gain(filter: Filter, hz: number): number {
	const w = 2 * Math.PI * hz;
	if (filter.kind === 'rc') return 1 / Math.hypot(1, w * filter.resistance * filter.capacitance);
	return 1 / Math.hypot(1 - w * w * filter.inductance * filter.capacitance, (w * filter.inductance) / filter.resistance);
}

/** Where the response has fallen to the root of a half, or the coil and the capacitor resonate. */
export function cornerOf(filter: Filter): number {
	if (filter.kind === 'rc') return 1 / (2 * Math.PI * filter.resistance * filter.capacitance);
	return 1 / (2 * Math.PI * Math.sqrt(filter.inductance * filter.capacitance));
}
