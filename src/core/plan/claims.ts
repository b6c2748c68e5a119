import { kindOf, type Aim, type AnyAim } from '../aims/index.js';
import { feedersFirst, type PartProfile } from '../part/index.js';
import type { Plan } from './document.js';

/** Channels of its timer that an aim needs for itself. */
export function channelsOf(aim: AnyAim, part: PartProfile): string[] {
	const timer = part.timers.find(({ id }) => id === aim.timer);
	return kindOf(aim).channels(aim, timer);
}

/** Every channel that an aim of the plan needs, as "timer channel". */
export function claimedChannels(plan: Plan): Set<string> {
	return new Set(plan.aims.flatMap((aim) => channelsOf(aim, plan.part).map((channel) => `${aim.timer} ${channel}`)));
}

/** Can two aims be on one timer? */
export function sharesTimer(aim: AnyAim, other: AnyAim): boolean {
	const use = kindOf(aim).timerUse(aim);
	return use !== 'alone' && use === kindOf(other).timerUse(other);
}

/** Does an aim count to a reload, so that others can follow its timer? */
export function countsPeriods(aim: AnyAim): boolean {
	const use = kindOf(aim).timerUse(aim);
	return use === 'period' || use === 'driven';
}

/** The aim that an aim follows, by id; undefined where it follows none. */
export function leaderOf(aim: AnyAim): string | undefined {
	return kindOf(aim).leader?.(aim);
}

/** The aims with each leader before its followers, and followers behind all others; otherwise in the plan's order. A ring is cut where it closes: the follower says so itself. */
export function leadersFirst(aims: readonly Aim[]): Aim[] {
	const follows = (aim: Aim) => leaderOf(aim) !== undefined;
	return [
		...aims.filter((aim) => !follows(aim)),
		...feedersFirst(
			aims.filter(follows),
			(aim) => [leaderOf(aim)!],
			() => undefined
		)
	];
}
