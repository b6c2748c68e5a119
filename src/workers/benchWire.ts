import { Rational } from '../core/exact/index.js';
import type { PulseMeasures, Statistics, Window } from '../core/measure/index.js';
import type { SteadyPwm } from '../core/timer/index.js';
import type { DisagreementColumns, EdgeChunk, Level } from '../core/trace/index.js';

/** Where a recorded line's edges are, and its frame; rationals as "num/den". */
export interface LineFrame {
	url: string;
	unit: string;
	start: number;
	end: number;
	initial: Level;
}

/** A planned wave as plain data: its setting and the seconds of a tick. */
export interface WireWave {
	setting: SteadyPwm;
	tick: string;
}

/** Statistics as they cross to and from a worker: rationals as text. */
export type WireStatistics = Omit<Statistics, 'mean' | 'min' | 'max'> & { mean: string; min: string; max: string };
export type WireMeasures = { [K in Exclude<keyof PulseMeasures, 'rises'>]: WireStatistics | null } & { rises: number };

/** What the bench worker does. It keeps the lines it has loaded, by url. */
export interface BenchWorker {
	/** Fetches a line and returns a copy of its chunks. Throws when it cannot be had. */
	load(frame: LineFrame): Promise<EdgeChunk[]>;
	measure(url: string, window: Window): WireMeasures;
	/** Where line and wave differ; `shift` is the line's time, in its units, of the wave's time 0. null for a blocked wave. */
	disagree(url: string, wave: WireWave, shift: number): DisagreementColumns | null;
}

export function toWire(measures: PulseMeasures): WireMeasures {
	const one = (s: Statistics | null) => s && { ...s, mean: s.mean.toString(), min: s.min.toString(), max: s.max.toString() };
	const { period, frequency, high, low, duty, rises } = measures;
	return { period: one(period), frequency: one(frequency), high: one(high), low: one(low), duty: one(duty), rises };
}

export function fromWire(measures: WireMeasures): PulseMeasures {
	const one = (s: WireStatistics | null) =>
		s && { ...s, mean: Rational.parse(s.mean), min: Rational.parse(s.min), max: Rational.parse(s.max) };
	const { period, frequency, high, low, duty, rises } = measures;
	return { period: one(period), frequency: one(frequency), high: one(high), low: one(low), duty: one(duty), rises };
}
