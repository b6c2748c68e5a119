import type { Aligned, AlignedLine, Laying } from '../core/align/index.js';
import { Rational } from '../core/exact/index.js';
import type { CardKind, PulseMeasures, SeriesBins, SeriesKind, SeriesSummary, Statistics, Window } from '../core/measure/index.js';
import type { SteadyPwm } from '../core/timer/index.js';
import type { DisagreementColumns, EdgeChunk, Level, StretchedColumns } from '../core/trace/index.js';

/** Where a recorded line is, and its frame; rationals as "num/den". */
export interface LineFrame {
	/** Of one state of the line: what it gives never changes. */
	url: string;
	/** Names that state. */
	version: string;
	edges: number;
	unit: string;
	start: number;
	end: number;
	initial: Level;
}

/**
 * What a line is held against, as plain data: a planned wave, a steady one by its setting and the seconds of a tick, any other as predicted,
 * `until` a cycle of its unit; or another recorded line.
 */
export type WireWave =
	| { kind: 'steady'; setting: SteadyPwm; tick: string }
	| { kind: 'predicted'; unit: string; columns: StretchedColumns; until: number }
	| { kind: 'recorded'; frame: LineFrame };

/** Statistics as they cross to and from a worker: rationals as text. */
export type WireStatistics = Omit<Statistics, 'mean' | 'min' | 'max'> & { mean: string; min: string; max: string };
type Counts = 'rises' | 'edges' | 'level' | 'stretches';
export type WireMeasures = { [K in Exclude<keyof PulseMeasures, Counts>]: WireStatistics | null } & Pick<PulseMeasures, Counts>;

/** Longer lines are measured by the server as a whole, read here in windows of no more edges, and compared with nothing. */
export const MOST_EDGES = 10_000_000;

/** What a card is to measure; `limit` in units of the line. */
export interface CardAsked {
	of: CardKind;
	line: LineFrame;
	other?: LineFrame;
	window: Window;
	limit: number;
}

/** What a card shows: rationals as "num/den", values of bins and points in doubles of the unit, times in units of the line. */
export interface WireCard {
	kind: SeriesKind;
	summary: (Omit<SeriesSummary, 'mean' | 'min' | 'max' | 'median'> & Record<'mean' | 'min' | 'max' | 'median', string>) | null;
	bins: SeriesBins;
	trend: { at: number; value: number }[];
}

/** Lines of one recording and what the plan puts on each; the ratio of the clocks lies in a range, `budget` in units of the recording. */
export interface AlignAsked {
	lines: { frame: LineFrame; wave: WireWave }[];
	ratio: [number, number];
	budget: number;
	/** It is laid by hand: offset in units of the recording. */
	at?: Laying;
}

/** How a recording lies on the plan, times in units of the recording. */
export type AlignedWire =
	| Unaligned
	| (Pick<AlignedLines, 'fits' | 'laying' | 'offsetKnown' | 'ratioKnown'> & {
			/** In how many places it fits nearly as well. */
			places: number;
			/** Of each line what became of its edges, `matched` only counted; null where nothing is planned of it. */
			lines: ((Omit<AlignedLine, 'matched'> & { matched: number }) | null)[];
	  });
type Unaligned = Extract<Aligned, { fits: false }>;
type AlignedLines = Exclude<Aligned, Unaligned>;

/** What the bench worker does. A line is fetched once and kept by its address; whatever needs it throws when it cannot be had. */
export interface BenchWorker {
	/** A copy of a line's chunks. */
	load(frame: LineFrame): Promise<EdgeChunk[]>;
	measure(frame: LineFrame, window: Window): Promise<WireMeasures>;
	/** null for a window of too many edges. */
	card(asked: CardAsked): Promise<WireCard | null>;
	/** When the next of its values begins behind (1) or before (-1) a time, in units of the line; null where there is none. */
	cardStep(asked: CardAsked, time: number, by: 1 | -1): Promise<number | null>;
	/** Boxed: a union would be taken apart on its way. */
	align(asked: AlignAsked): Promise<{ found: AlignedWire }>;
	/** Where line and wave differ; `shift` is the line's time, in its units, of the wave's time 0. null for a blocked wave, and for a line of too many edges. */
	disagree(frame: LineFrame, wave: WireWave, shift: number): Promise<DisagreementColumns | null>;
}

export function toWire(measures: PulseMeasures): WireMeasures {
	const one = (s: Statistics | null) => s && { ...s, mean: s.mean.toString(), min: s.min.toString(), max: s.max.toString() };
	const { period, frequency, high, low, duty, ...counts } = measures;
	return { period: one(period), frequency: one(frequency), high: one(high), low: one(low), duty: one(duty), ...counts };
}

export function fromWire(measures: WireMeasures): PulseMeasures {
	const one = (s: WireStatistics | null) =>
		s && { ...s, mean: Rational.parse(s.mean), min: Rational.parse(s.min), max: Rational.parse(s.max) };
	const { period, frequency, high, low, duty, ...counts } = measures;
	return { period: one(period), frequency: one(frequency), high: one(high), low: one(low), duty: one(duty), ...counts };
}
