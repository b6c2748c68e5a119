import { Rational, type Hertz, type Ticks } from '../exact/index.js';

/** How a counter counts and how its reload becomes a period (timers.md 3). */
export type Mode = 'up' | 'down' | 'updown';
export type Rule = 'inclusive' | 'exclusive';

export interface Counting {
	mode: Mode;
	/** Means nothing in updown. */
	rule: Rule;
	/** Counter width in bits, 1 to 32. */
	width: number;
}

/**
 * Period T in ticks for a reload that fits the width. null where reload 0 blocks the counter.
 * Throws RangeError when reload is no integer in 0..2^width-1.
 */
export function periodTicks(counting: Counting, reload: number): Ticks | null {
	if (!Number.isInteger(reload) || reload < 0 || reload > largest(counting.width))
		throw new RangeError(`reload ${reload} does not fit ${counting.width} bits`);
	if (counting.mode === 'updown') return reload === 0 ? null : 2 * reload;
	if (counting.rule === 'exclusive') return reload === 0 ? 2 ** counting.width : reload;
	return reload === 0 ? null : reload + 1;
}

/**
 * The reloads 1..2^width-1 as periods T = step x u, u an integer in uMin..uMax, reload = u - offset.
 * This is the form in which the search enumerates them.
 */
export function periodGrid(counting: Counting): { step: 1 | 2; uMin: number; uMax: number; offset: 0 | 1 } {
	const top = largest(counting.width);
	if (counting.mode === 'updown') return { step: 2, uMin: 1, uMax: top, offset: 0 };
	if (counting.rule === 'exclusive') return { step: 1, uMin: 1, uMax: top, offset: 0 };
	return { step: 1, uMin: 2, uMax: top + 1, offset: 1 };
}

/** f = f_k / (P x T). */
export function updateRate(kernel: Hertz, prescale: number, ticks: Ticks): Hertz {
	return kernel.div(Rational.int(prescale).mul(Rational.int(ticks)));
}

/** 2^width - 1. */
export function largest(width: number): number {
	return 2 ** width - 1;
}
