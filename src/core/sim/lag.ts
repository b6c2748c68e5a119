import type { SimLag } from './system.js';

/**
 * Software is late within a range (timers.md 9): its delays go evenly through the range, both ends among them, in a fixed
 * order that repeats, so that a prediction is the same each time and steady stretches stay steady.
 */
const ORDER = [0, 15, 8, 4, 12, 2, 10, 6, 14, 1, 9, 5, 13, 3, 11, 7];

/** Base cycles of the delay after update number `k`, from 1 on. */
export function lagAt(lag: SimLag, k: number): number {
	if (typeof lag === 'number') return lag;
	return lag.least + Math.round(((lag.most - lag.least) * ORDER[(k - 1) % ORDER.length]) / (ORDER.length - 1));
}

/** Where the order stands after so many updates; only where there is a range. */
export function lagPlace(updates: number, ...lags: (SimLag | undefined)[]): string {
	return lags.some((lag) => typeof lag === 'object') ? String(updates % ORDER.length) : '';
}
