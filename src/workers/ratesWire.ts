import { Rational } from '../core/exact/index.js';
import type { Plan } from '../core/plan/index.js';
import type { RateAnswer, SearchProgress } from '../core/solve/index.js';
import type { Go } from './pool.js';

/** An answer of the rate search as it crosses from the worker: rationals as text. */
export interface WireAnswer {
	/** Settings of the nodes that change, by id: a factor as "num/den", an input's id, or "on". */
	changes: [string, string][];
	met: { hz: string; ppm?: string }[];
}

export interface RatesProgress extends SearchProgress {
	combinations: string;
	answers: WireAnswer[];
}

/** What the rates worker does. */
export interface RatesWorker {
	/** Searches for the plan's wishes and tells how far it is, at first soon, then some ten times a second, as long as it is told to go on. Throws RangeError as RateSearch does. */
	search(plan: Plan, keep: number, onProgress: (progress: RatesProgress) => Go | Promise<Go>): Promise<void>;
}

export function toWireAnswer({ settings, changed, met }: RateAnswer): WireAnswer {
	const text = (id: string) => {
		const setting = settings[id];
		return setting instanceof Rational ? setting.toString() : setting === true ? 'on' : String(setting);
	};
	return {
		changes: changed.map((id) => [id, text(id)]),
		met: met.map(({ hz, ppm }) => ({ hz: hz.toString(), ...(ppm && { ppm: ppm.toString() }) }))
	};
}
