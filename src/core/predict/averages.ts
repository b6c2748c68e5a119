import { averaged, cornerOf, filteredSpectrum, segmentsOf, spectrumOf, type Filter, type Spectrum } from '../measure/index.js';
import type { Prediction } from '../sim/index.js';
import type { PlanDerivation } from '../plan/index.js';

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
export function averageTables({ aims }: PlanDerivation, { outputs, timers, unit }: Prediction): Averaged[] {
	return aims.flatMap(({ aim, run, timer }): Averaged[] => {
		if (!run.rows || !run.filter || !timer) return [];
		const { filter } = run;
		const rows = run.rows.length;
		const [pin, second] = Object.keys(run.rows[0].compare).map((id) => outputs.get(`${timer.id}.${id}`));
		const updates = timers.get(timer.id)?.updates;
		if (!pin || !updates || updates.count < 3 * rows) return [];
		// The second pass is the first that no beginning disturbs.
		const [from, to] = [updates.edgeTime(2 * rows - 1), updates.edgeTime(3 * rows - 1)];
		const segments = segmentsOf(pin, from, to, second);
		const count = Math.max(8, Math.min(MOST_HARMONICS, 2 * rows + 40, Math.floor(MOST_TERMS / segments.length)));
		const own = spectrumOf(segments, count);
		const cycle = unit.toNumber();
		const means = Array.from({ length: rows }, (_, k): [number, number] => {
			const [begin, end] = [updates.edgeTime(2 * rows - 1 + k), updates.edgeTime(2 * rows + k)];
			return [(begin - from) * cycle, spectrumOf(segmentsOf(pin, begin, end, second), 0).mean];
		});
		return [
			{
				aim: aim.id,
				filter,
				corner: cornerOf(filter),
				seconds: (to - from) * cycle,
				from,
				filtered: averaged(segments, filter, SAMPLES),
				means,
				pin: own,
				after: filteredSpectrum(own, filter)
			}
		];
	});
}
