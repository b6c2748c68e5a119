import { Rational } from '../../exact/index.js';
import type { TimerProfile } from '../../part/index.js';
import type { AimContext } from './context.js';
import type { DerivationDraft } from './draft.js';

/** Where up-down counting updates (timers.md 4). */
export type Updates = 'bottom' | 'top' | 'both';

const BEST_FIRST: readonly Updates[] = ['bottom', 'top', 'both'];

/** Does a timer's up-down counting offer to update there? */
export function offersUpdates({ update }: TimerProfile, at: Updates): boolean {
	return (update ?? ['bottom']).includes(at);
}

/** Where an up-down counter updates while nobody says: once a period where that can be had (timers.md 4). */
export function usualUpdates(timer: TimerProfile): Updates {
	return BEST_FIRST.find((one) => offersUpdates(timer, one)) ?? 'bottom';
}

/** Periods from one update of a timer to the next: more than one with a repeat count, half of one where both ends update (timers.md 4). */
export function periodsAnUpdate(context: AimContext, timer: TimerProfile, mode: string): Rational {
	return Rational.ratio(context.repeatOn(timer.id).count + 1, updatesAPeriod(context, timer, mode));
}

/** Periods from the start of a timer to its first update: at the top half a period is over. */
export function firstUpdate(context: AimContext, timer: TimerProfile, mode: string): Rational {
	if (mode !== 'updown' || context.updatesOn(timer.id).at !== 'top') return periodsAnUpdate(context, timer, mode);
	return Rational.int(context.repeatOn(timer.id).count).add(Rational.ratio(1, 2));
}

/** Updates a period of a way of counting, without a repeat count. */
export function updatesAPeriod({ updatesOn }: AimContext, timer: TimerProfile, mode: string): 1 | 2 {
	return mode === 'updown' && updatesOn(timer.id).at === 'both' ? 2 : 1;
}

/** Says of wished updates that the timer does not offer them, or that another aim on it has them elsewhere. */
export function checkUpdates(draft: DerivationDraft, wished: 'auto' | Updates, mode: string): void {
	const timer = draft.derivation.timer!;
	if (wished === 'auto') return;
	const decided = draft.context.updatesOn(timer.id);
	if (mode !== 'updown') draft.warn({ code: 'updates-idle', mode });
	else if (!offersUpdates(timer, wished)) draft.fault({ code: 'updates-refused', wished, timer: timer.name });
	else if (decided.at !== wished) draft.fault({ code: 'updates-shared', wished, at: decided.at, other: decided.aim?.name ?? timer.name });
}
