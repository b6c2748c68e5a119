import type { Seconds } from '../exact/index.js';
import type { EdgeChunk, SampleBlock, Trace } from '../trace/index.js';
import type { Histogram } from './histogram.js';

export const RECORDING_FORMATS = ['vcd', 'csv', 'wav'] as const;
export type RecordingFormat = (typeof RECORDING_FORMATS)[number];

/** What a reader makes of a file: lines over one common time unit, and what was noted on the way. */
export interface ParsedRecording {
	format: RecordingFormat;
	/** Seconds of one time unit. */
	unit: Seconds;
	/** First and last moment, both included, in units. */
	start: number;
	end: number;
	/** What an edge's time can be off by: a dump's unit, one sample, or the last digit of written times (timers.md 11). */
	resolution: Seconds;
	/** Where that comes from. */
	stepFrom: StepFrom;
	lines: ParsedLine[];
	notes: Note[];
}

/** A dump's unit, one sample, the last digit of written times, or what was said by hand. */
export type StepFrom = 'unit' | 'sample' | 'digit' | 'hand';

export interface ParsedLine {
	/** Of its column, channel, or place in a dump, 0 for the first: what the sink was told. */
	number: number;
	name: string;
	/** Without the chunks when the reader gave them away as they filled. */
	trace: Trace;
	edges: number;
	/** Shortest pulse in units, Infinity for none. */
	shortest: number;
	/** The coarsest raster that all its edges lie on, in units; 0 where that says nothing. */
	raster: number;
	/** How analogue samples become levels; left out for a line that held two levels already, and for one that never moves. */
	slicing?: Slicing;
	analogue?: Analogue;
	/** Its samples, unless the reader gave them away; then edges are still to be cut from them, with samples so many seconds apart. */
	blocks?: SampleBlock[];
	sample?: Seconds;
	/** Its own step, where edges are interpolated between samples, and the distance of those. */
	step?: { step: Seconds; raster: Seconds };
}

/** What is known of the samples of an analogue line. */
export interface Analogue {
	samples: number;
	least: number;
	most: number;
	histogram: Histogram;
}

export interface Slicing {
	/** The two levels that were found. */
	low: number;
	high: number;
	threshold: number;
	/** A level changes beyond threshold + or - this. */
	hysteresis: number;
	/** Seconds of the stretch whose middle the threshold follows, instead of standing still. */
	follow?: number;
}

/** Something worth knowing that does not spoil the recording. */
export interface Note {
	code:
		| 'rounded-times'
		| 'missing-cells'
		| 'cut-last-line'
		| 'cut-end'
		| 'no-names'
		| 'footer'
		| 'remarks'
		| 'repeated-heading'
		| 'equal-times'
		| 'unknown-cells'
		| 'time-unit-unknown'
		| 'decimal-guessed'
		| 'date-order-guessed'
		| 'origin'
		| 'index-column'
		| 'time-assumed-seconds'
		| 'flat-line'
		| 'left-out'
		| 'alias'
		| 'on-raster';
	/** Line of the file, 1 for the first, where one can be named. */
	line?: number;
	/** The recorded line's name, where it concerns one. */
	name?: string;
	count?: number;
}

/** A push reader: bytes in any pieces, then the end. After an error it takes nothing more. */
export interface RecordingReader {
	/** Throws FormatError. Keeps no reference to the chunk. */
	feed(chunk: Uint8Array): void;
	/** Throws FormatError when what came is no whole recording. */
	end(): ParsedRecording;
}

/** Takes a line's chunks and blocks as they fill, so that a large file never stands in memory. */
export interface RecordingSink {
	edges(line: number, chunk: EdgeChunk): void;
	samples(line: number, block: SampleBlock): void;
}

/** The same for one line. */
export interface LineSink {
	edges: (chunk: EdgeChunk) => void;
	samples: (block: SampleBlock) => void;
}

export function lineSink(sink: RecordingSink | undefined, line: number): LineSink | undefined {
	return sink && { edges: (chunk) => sink.edges(line, chunk), samples: (block) => sink.samples(line, block) };
}

/** What a code of FormatError is about: words of the file and numbers, by name. */
export type FormatDetails = Readonly<Record<string, string | number>>;

/** A file that cannot be read: what is wrong as a code, and where. */
export class FormatError extends Error {
	constructor(
		readonly code: string,
		/** 1 for the first line; 0 when lines mean nothing. */
		readonly line: number,
		/** Absolute offset of the byte. */
		readonly byte: number,
		readonly details: FormatDetails = {}
	) {
		super(`${code} at line ${line}, byte ${byte} ${JSON.stringify(details)}`);
	}
}

/** Seconds per unit of the time words that files use. */
export const TIME_UNITS: Readonly<Record<string, number>> = { s: 0, ms: -3, us: -6, µs: -6, μs: -6, ns: -9, ps: -12, fs: -15 };
