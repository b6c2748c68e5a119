import type { Hertz, Rational } from '../../exact/index.js';
import type { SimInput } from '../../sim/index.js';
import type { StretchedTrace, ValueTrace } from '../../trace/index.js';

/** Why a reading is not what came: the interval went round the counter, an edge was overwritten before it was served or not accepted, or a width lies outside its window. */
export type Misread = 'wrapped' | 'overwritten' | 'missed' | 'outside';

/** What an aim that listens reads, one column each; times and spans in base cycles. */
export interface Readings {
	at: number[];
	/** Ticks, edges or counts that were read. */
	counts: number[];
	/** What really came: the span in base cycles, or the counts. */
	truth: number[];
	wrong: (Misread | '')[];
	/** Of a rate: the edges that each reading is over, and those that really came within the true span. */
	over?: number[];
	came?: number[];
}

/** How to read `counts` and `truth`: as a rate, a width, or a position. */
export type ReadingKind = { kind: 'rate' } | { kind: 'span' } | { kind: 'position' } | { kind: 'gated'; gate: Rational };

export interface Replay {
	aim: string;
	reads: ReadingKind;
	/** Ticks a second. */
	tickRate: Hertz;
	/** Edges that came, and that the filter let through. */
	edges: number;
	accepted: number;
	readings: Readings;
}

export interface Heard {
	replay: Replay;
	accepted?: StretchedTrace;
	/** Each edge is a capture. */
	captures?: StretchedTrace;
	/** Base cycles that serving a capture takes. */
	service?: number;
	count?: ValueTrace;
	/** Each count with the base cycle at which it is reached. */
	positions?: [number, number][];
}

/** The signals that an aim listens to, by the name of its line. */
export type InputLines = Partial<Record<'input' | 'a' | 'b', SimInput>>;
