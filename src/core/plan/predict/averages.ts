import { averaged, cornerOf, gain, segmentsOf, spectrumOf, type Filter, type Spectrum } from '../../measure/index.js';
import type { Prediction } from '../../sim/index.js';
import type { PlanDerivation } from '../derive.js';
import type { TableAim } from '../jobs/index.js';

/** A shape behind its filter, over one pass of its rows in the steady state; doubles, in parts of the supply. */
export interface Averaged {
	aim: string;
	filter: Filter;
	/** Hertz at which the filter has fallen to the root of a half, or resonates. */
	corner: number;
	/** Seconds of a pass, and base cycles at which the one shown begins. */
	seconds: number;
	from: number;
	/** The filtered signal at even times. */
	filtered: number[];
	/** The mean of each period of the pin: when it begins, in seconds, and its value. */
	means: [number, number][];
	/** Of the pin itself, and behind the filter. */
	pin: Spectrum;
	after: Spectrum;
}

const SAMPLES = 400;
const MOST_TERMS = 3_000_000;
const MOST_HARMONICS = 600;

/** Every shape of a plan that can be averaged: with two outputs, the one less the other. */
export function averageTables({ jobs }: PlanDerivation, { outputs, timers, unit }: Prediction): Averaged[] {
	return jobs.flatMap(({ aim, run, timer }): Averaged[] => {
		if (aim.kind !== 'table' || !run.rows || !run.filter || !timer) return [];
		const { filter } = run;
		const rows = run.rows.length;
		const [pin, second] = [aim.channel, (aim satisfies TableAim).second].map((id) => outputs.get(`${timer.id}.${id}`));
		const updates = timers.get(timer.id)?.updates;
		if (!pin || !updates || updates.count < 3 * rows) return [];
		// The second pass is the first that no beginning disturbs.
		const [from, to] = [updates.edgeTime(2 * rows - 1), updates.edgeTime(3 * rows - 1)];
		const segments = segmentsOf(pin, from, to, aim.second === '' ? undefined : second);
		const count = Math.max(8, Math.min(MOST_HARMONICS, 2 * rows + 40, Math.floor(MOST_TERMS / segments.length)));
		const own = spectrumOf(segments, count);
		const amplitudes = own.amplitudes.map((a, i) => a * gain(filter, (i + 1) * own.base));
		const rest = Math.sqrt(amplitudes.slice(1).reduce((sum, a) => sum + a * a, 0));
		const second1 = unit.toNumber();
		const means = Array.from({ length: rows }, (_, k): [number, number] => {
			const [begin, end] = [updates.edgeTime(2 * rows - 1 + k), updates.edgeTime(2 * rows + k)];
			const on = segmentsOf(pin, begin, end, aim.second === '' ? undefined : second);
			const sum = on.reduce((all, { from: a, to: b, value }) => all + value * (b - a), 0);
			return [(begin - from) * second1, sum / ((end - begin) * second1)];
		});
		return [
			{
				aim: aim.id,
				filter,
				corner: cornerOf(filter),
				seconds: (to - from) * second1,
				from,
				filtered: averaged(segments, filter, SAMPLES),
				means,
				pin: own,
				after: { ...own, amplitudes, distortion: amplitudes[0] > 1e-12 ? rest / amplitudes[0] : NaN }
			}
		];
	});
}
