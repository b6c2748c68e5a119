import { Rational } from '../exact/index.js';
import type { RecordingFormat, Slicing } from './recording.js';

/**
 * What is said of a file ahead of reading it; all that is left out is found. Plain data: it is kept with a recording, so that it can be read
 * again in the same way.
 */
export interface ReadSettings {
	format?: RecordingFormat;
	/** What an edge's time can be off by, in seconds, as it was typed: "20e-9". */
	step?: string;
	/** Of rows. */
	separator?: ',' | ';' | '\t' | '|' | ' ';
	decimal?: '.' | ',';
	/** What groups the digits before the decimal sign; empty: nothing does. */
	thousands?: string;
	/** Line of the first row of data, 1 for the first of the file. */
	firstRow?: number;
	/** Number of the column that holds the times, 0 for the first; -1: the rows are only counted, `interval` seconds apart. */
	timeColumn?: number;
	/** Power of ten of the seconds that times are written in. */
	timeExponent?: number;
	interval?: string;
	dateOrder?: 'day-first' | 'month-first';
	/** What goes for every line of which nothing else is said. */
	all?: LineSettings;
	/** By number, 0 for the first column, channel or variable: another name, and what it is taken for. */
	lines?: Record<string, LineSettings>;
	/** Times are kept in steps so many times the file's own, where those are too fine for so long a file. */
	coarser?: number;
}

export interface LineSettings {
	name?: string;
	as?: 'levels' | 'analogue' | 'nothing';
	threshold?: number;
	hysteresis?: number;
	/** Seconds over which the threshold follows the wave. */
	follow?: number;
}

/** What is said of a line. */
export function lineSettings({ all, lines }: ReadSettings, number: number): LineSettings {
	return { ...all, ...lines?.[number] };
}

/** How a line's samples are cut, as far as that was said. */
export function slicingOf({ threshold, hysteresis, follow }: LineSettings): Partial<Slicing> | undefined {
	if (threshold === undefined && hysteresis === undefined && follow === undefined) return undefined;
	return {
		...(threshold !== undefined && { threshold }),
		...(hysteresis !== undefined && { hysteresis }),
		...(follow !== undefined && { follow })
	};
}

/** The step that was typed, in seconds; undefined for none, or for what is no number above 0. */
export function stepOf({ step }: ReadSettings): Rational | undefined {
	const read = step === undefined ? undefined : Rational.tryParse(step);
	return read && read.sign > 0 ? read : undefined;
}
