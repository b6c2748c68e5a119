import type { CountingMode } from '../part/index.js';
import type { Ticks } from '../exact/index.js';
import { largest, periodTicks, type Rule } from './period.js';

/** Everything that the time between two events of a counter depends on (timers.md 3). */
export interface Interval {
	mode: CountingMode;
	rule: Rule;
	/** Counter width in bits. */
	width: number;
	/** R of `up`, `down` and `updown`; p of `preload`; b of `tap`; N of `advance`; C of `clear`. `free` has none. */
	value: number;
	/** Ticks that software takes to write the counter, in `clear` and in `preload` done by software. */
	late?: number;
}

/**
 * Ticks from one event of the counter to the next, in every way of counting. null where reload 0 blocks the counter.
 * Throws RangeError for a value that does not fit the width.
 */
export function intervalTicks({ mode, rule, width, value, late = 0 }: Interval): Ticks | null {
	if (mode === 'up' || mode === 'down' || mode === 'updown') return periodTicks({ mode, rule, width }, value);
	if (mode === 'free') return 2 ** width;
	const most = mode === 'tap' ? width - 1 : largest(width);
	const least = mode === 'advance' ? 1 : 0;
	if (!Number.isInteger(value) || value < least || value > most) throw new RangeError(`${mode} by ${value} does not fit ${width} bits`);
	switch (mode) {
		case 'preload':
			return 2 ** width - value + late;
		case 'tap':
			return 2 ** (value + 1);
		case 'advance':
			return value;
		case 'clear':
			return value + 1 + late;
	}
}
