import { type Aim, type AimDerivation, aimKind, freshAim } from '../../../core/aims/index.js';
import {
	type Plan,
	type PlanDerivation,
	type Step,
	derivePlan,
	insertStep,
	leaderOf,
	placedOn,
	setStep,
	countsPeriods
} from '../../../core/plan/index.js';
import type { PlanScore, ScoreStave } from '../../../core/predict/index.js';
import type { Rational } from '../../../core/exact/index.js';
import { routesTo, type PartProfile, type TimerProfile } from '../../../core/part/index.js';

/** One timer's stave: its counter over the score's time, as the simulator counts it. */
export interface Stave extends Omit<ScoreStave, 'timer'> {
	timer: TimerProfile;
	/** Aims on it, in the plan's order. */
	aims: Aim[];
}

/** A trigger's way from one stave to another. */
export interface Arrow {
	follower: Aim;
	/** What the trigger does. */
	action: string;
	from: string;
	to: string;
	source: string;
	/** Seconds of the event and of what it does; undefined where it is no single moment. */
	at: number | undefined;
	acts: number | undefined;
	/** Value of the leader's counter at the event. */
	value: number | undefined;
	figures: AimDerivation['figures'];
}

export interface Score extends Omit<PlanScore, 'staves'> {
	staves: Stave[];
	arrows: Arrow[];
}

/** Lays a simulated score out: staves with their aims, leaders above those that follow them, and the arrows between them. */
export function layScore({ plan, aims }: PlanDerivation, { staves: counted, ...score }: PlanScore): Score {
	const followers = aims.filter(({ route }) => route !== undefined);
	const staves = counted.flatMap((stave): Stave[] => {
		const timer = plan.part.timers.find(({ id }) => id === stave.timer);
		return timer ? [{ ...stave, timer, aims: plan.aims.filter((aim) => aim.timer === timer.id) }] : [];
	});
	// Leaders stand above those that follow them.
	const depth = (id: string, seen = new Set<string>()): number => {
		if (seen.has(id)) return 0;
		seen.add(id);
		const job = followers.find(({ aim }) => aim.timer === id);
		const leader = job && plan.aims.find((aim) => aim.id === job.route!.leader);
		return leader ? 1 + depth(leader.timer, seen) : 0;
	};
	const linked = new Set(followers.flatMap(({ aim, route }) => [aim.timer, plan.aims.find(({ id }) => id === route!.leader)?.timer]));
	staves.sort((a, b) => Number(linked.has(b.timer.id)) - Number(linked.has(a.timer.id)) || depth(a.timer.id) - depth(b.timer.id));
	const timers = staves.map(({ timer }) => timer.id);
	const arrows = followers
		.map((job) => arrowOf(job, plan, timers, startOf(job.route!.leader, followers)))
		.filter((arrow) => arrow !== undefined);
	return { ...score, staves, arrows };
}

/** When an aim first starts, in seconds of plan time: after all leaders of its chain, each its lag behind the one before. */
function startOf(aim: string, followers: readonly AimDerivation[], seen: readonly string[] = []): number {
	const job = followers.find((one) => one.aim.id === aim);
	if (!job?.route || seen.includes(aim)) return 0;
	const lag = job.figures.find(({ name }) => name === 'lag')?.value.toNumber() ?? 0;
	return lag + startOf(job.route.leader, followers, [...seen, aim]);
}

/** `begin`: when its leader first starts. */
function arrowOf(job: AimDerivation, plan: Plan, timers: readonly string[], begin: number): Arrow | undefined {
	const leader = plan.aims.find(({ id }) => id === job.route?.leader);
	if (!leader || !timers.includes(leader.timer) || !job.route) return undefined;
	const figure = (name: string): Rational | undefined => job.figures.find((one) => one.name === name)?.value;
	const lag = figure('lag');
	const latency = figure('latency');
	const acts = lag && begin + lag.toNumber();
	const at = lag && latency ? begin + lag.sub(latency).toNumber() : undefined;
	const value = job.strip.find(({ name }) => name === 'lead')?.value;
	const follower = plan.aims.find(({ id }) => id === job.aim.id)!;
	return {
		follower,
		action: job.route.action,
		from: leader.timer,
		to: job.aim.timer,
		source: job.route.source,
		at,
		acts,
		value,
		figures: job.figures
	};
}

/** The same followers with every third and sixth taken as a rounded percent: what that costs, in degrees, by follower. */
export function naiveLags(plan: Plan): Map<string, { typed: string; degrees: Rational }> {
	const rounded = new Map<string, string>();
	const aims = plan.aims.map((aim): Aim => {
		const share = 'lag' in aim && leaderOf(aim) !== undefined ? /^\s*(\d+)\s*\/\s*(3|6)\s*$/.exec(aim.lag) : null;
		if (!share) return aim;
		const lag = `${Math.floor((100 * Number(share[1])) / Number(share[2]))} %`;
		rounded.set(aim.id, lag);
		return { ...aim, lag } as Aim;
	});
	const found = new Map<string, { typed: string; degrees: Rational }>();
	if (rounded.size === 0) return found;
	for (const { aim, figures } of derivePlan({ ...plan, aims }).aims) {
		const degrees = figures.find(({ name }) => name === 'lag-degrees')?.value;
		const typed = rounded.get(aim.id);
		if (typed !== undefined && degrees) found.set(aim.id, { typed, degrees });
	}
	return found;
}

/** The inputs of one timer that events of another reach. */
export function wiresBetween(part: PartProfile, from: string, to: string): { input: string; sources: string[] }[] {
	return routesTo(part, to)
		.filter((route) => route.from.timer === from)
		.map((route) => ({ input: route.to.input, sources: route.from.sources }));
}

/** What a link from one timer to another comes to: a step that makes it, or why it cannot be and what could. */
export type LinkAnswer =
	| { kind: 'step'; step: Step; aim: string }
	/** `nearest`: another timer that the first reaches and that could follow it, one without an aim if there is one. */
	| { kind: 'no-wire'; reaches: string[]; reached: string[]; nearest?: string }
	| { kind: 'no-leader' }
	| { kind: 'cannot' };

/** Lets one timer follow another, so many ticks of a compare behind: its follower is given the new leader, or a new one is added. */
export function linkStep(plan: Plan, from: string, to: string, lag: string): LinkAnswer {
	const { part } = plan;
	if (wiresBetween(part, from, to).length === 0) {
		const names = (ids: readonly string[]) => part.timers.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
		const reaches = part.timers.filter(({ id }) => wiresBetween(part, from, id).length > 0).map(({ id }) => id);
		const reached = part.timers.filter(({ id }) => wiresBetween(part, id, to).length > 0).map(({ id }) => id);
		const able = reaches.filter((id) => aimKind('follower').serves(part.timers.find((timer) => timer.id === id)!));
		const free = able.find((id) => !plan.aims.some(({ timer }) => timer === id)) ?? able[0];
		return { kind: 'no-wire', reaches: names(reaches), reached: names(reached), ...(free !== undefined && { nearest: free }) };
	}
	const leader = plan.aims.find((aim) => aim.timer === from && countsPeriods(aim));
	if (!leader) return { kind: 'no-leader' };
	const index = plan.aims.findIndex((aim) => aim.timer === to && leaderOf(aim) !== undefined);
	const known = plan.aims.at(index);
	if (index >= 0 && known) {
		const next = { ...known, leader: leader.id, lag, source: 'auto', input: 'auto' };
		return { kind: 'step', step: setStep(plan, ['aims', index], next, `let ${known.name} follow ${leader.name}`), aim: known.id };
	}
	const timer = part.timers.find(({ id }) => id === to)!;
	const fresh = freshAim('follower', crypto.randomUUID(), `follower ${plan.aims.length + 1}`, to, {
		leader: leader.id,
		lag,
		...('duty' in leader && { duty: leader.duty })
	});
	const placed = placedOn(fresh, timer, plan);
	if (!placed) return { kind: 'cannot' };
	return { kind: 'step', step: insertStep(['aims', plan.aims.length], placed, `let ${timer.name} follow ${leader.name}`), aim: placed.id };
}
