import { Rational } from '../../../core/exact/index.js';
import type { SuspectWave } from '../../../core/suspects/index.js';
import { StretchedTrace, type Repeat } from '../../../core/trace/index.js';
import type { WireWave } from '../../../workers/benchWire.js';

/** What a suspect would show of a line, to be drawn and laid on. */
export interface Suspected {
	source: StretchedTrace;
	wire: WireWave;
	/** What its clock may be off by, in ppm, where that is another clock. */
	ppm?: readonly [number, number];
}

const PICO = Rational.ratio(1, 1e12);
/** Turns that are gone through at the most: years of any pulse. */
const MOST_TURNS = 1e9;

/** A predicted course as a wave of its own, in picoseconds. */
export function suspectedOf({ course: { level, times, turn, cut }, ppm }: SuspectWave): Suspected {
	const stored = times.map((time) => time * 1e12);
	const last = stored.at(-1) ?? 0;
	const repeats: Repeat[] = turn
		? [{ first: turn.first, count: turn.count, period: turn.period * 1e12, times: MOST_TURNS, from: last + 0.5 }]
		: [];
	const until = cut ? last : Number.MAX_SAFE_INTEGER;
	return {
		source: new StretchedTrace(PICO, level, stored, repeats),
		wire: { kind: 'predicted', unit: PICO.toString(), columns: { initial: level, times: stored, repeats }, until },
		...(ppm && { ppm })
	};
}
