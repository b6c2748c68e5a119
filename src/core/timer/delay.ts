import { Rational, type Hertz, type Seconds, type Ticks } from '../exact/index.js';
import { largest, type Rule } from './period.js';

/** A wished time in whole ticks, rounded half up, and the time that they really take (timers.md 10). */
export interface WholeTicks {
	ticks: Ticks;
	seconds: Seconds;
}

/** Throws RangeError for a count beyond 2^53. */
export function wholeTicks(seconds: Seconds, tickRate: Hertz): WholeTicks {
	const ticks = Number(seconds.mul(tickRate).roundHalfUp());
	return { ticks, seconds: Rational.int(ticks).div(tickRate) };
}

/** The preload that makes a period of so many ticks when the counter is loaded again `late` ticks after its wrap; null when none of the width does. */
export function preloadFor(ticks: Ticks, width: number, late: Ticks): number | null {
	const preload = 2 ** width - ticks + late;
	return preload >= 0 && preload <= largest(width) ? preload : null;
}

/** Values of a one-shot with an output active above its compare: the delay is C ticks, T = delay + pulse (timers.md 6). */
export interface OneShot {
	compare: number;
	/** T - 1 of an inclusive counter, T of an exclusive one. */
	reload: number;
	delayTicks: Ticks;
	pulseTicks: Ticks;
}

/** null when a count is below one tick or the reload does not fit the width. */
export function oneShotFor(delay: Seconds, pulse: Seconds, tickRate: Hertz, width: number, rule: Rule = 'inclusive'): OneShot | null {
	const delayTicks = wholeTicks(delay, tickRate).ticks;
	const pulseTicks = wholeTicks(pulse, tickRate).ticks;
	const reload = delayTicks + pulseTicks - (rule === 'inclusive' ? 1 : 0);
	if (delayTicks < 1 || pulseTicks < 1 || reload > largest(width)) return null;
	return { compare: delayTicks, reload, delayTicks, pulseTicks };
}

/** How a counter runs between two readings: the values that it goes through, `first` .. `last`, upwards or downwards, over and over. */
export interface Run {
	first: number;
	last: number;
	down: boolean;
}

/** The elapsed ticks between two readings of a counter; true only for less than one round of it (timers.md 8). undefined for a value that is never held. */
export function elapsedTicks(from: number, to: number, { first, last, down }: Run): Ticks | undefined {
	const round = last - first + 1;
	if ([from, to].some((value) => value < first || value > last)) return undefined;
	const ticks = down ? from - to : to - from;
	return ((ticks % round) + round) % round;
}
