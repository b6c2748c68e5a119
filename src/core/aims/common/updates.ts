import type { TimerProfile } from '../../part/index.js';

const BEST_FIRST = ['bottom', 'top', 'both'] as const;

/** Where a plan lets an up-down counter update, of what the part offers: once a period where that can be had (timers.md 4). */
export function updateAt({ update }: TimerProfile): 'bottom' | 'top' | 'both' {
	return BEST_FIRST.find((one) => update?.includes(one)) ?? 'bottom';
}

/** Updates a period of a way of counting. */
export function updatesAPeriod(timer: TimerProfile, mode: string): 1 | 2 {
	return mode === 'updown' && updateAt(timer) === 'both' ? 2 : 1;
}
