import { routesTo, type PartProfile, type TimerProfile } from '../../../core/part/index.js';
import {
	canDo,
	derivePlan,
	freshJob,
	insertStep,
	placedOn,
	setStep,
	useKind,
	type Aim,
	type FollowerAim,
	type JobDerivation,
	type Plan,
	type PlanDerivation,
	type PlanScore,
	type ScoreStave,
	type Step
} from '../../../core/plan/index.js';
import type { Rational } from '../../../core/exact/index.js';

/** One timer's stave: its counter over the score's time, as the simulator counts it. */
export interface Stave extends Omit<ScoreStave, 'timer'> {
	timer: TimerProfile;
	/** Aims on it, in the plan's order. */
	aims: Aim[];
}

/** A trigger's way from one stave to another. */
export interface Arrow {
	follower: FollowerAim;
	from: string;
	to: string;
	source: string;
	/** Seconds of the event and of what it does; undefined where it is no single moment. */
	at: number | undefined;
	acts: number | undefined;
	/** Value of the leader's counter at the event. */
	value: number | undefined;
	figures: JobDerivation['figures'];
}

export interface Score extends Omit<PlanScore, 'staves'> {
	staves: Stave[];
	arrows: Arrow[];
}

/** Lays a simulated score out: staves with their aims, leaders above those that follow them, and the arrows between them. */
export function layScore({ plan, jobs }: PlanDerivation, { staves: counted, ...score }: PlanScore): Score {
	const followers = jobs.filter(
		(job): job is JobDerivation & { aim: FollowerAim } => job.aim.kind === 'follower' && job.route !== undefined
	);
	const staves = counted.flatMap((stave): Stave[] => {
		const timer = plan.part.timers.find(({ id }) => id === stave.timer);
		return timer ? [{ ...stave, timer, aims: plan.aims.filter((aim) => aim.timer === timer.id) }] : [];
	});
	// Leaders stand above those that follow them.
	const depth = (id: string, seen = new Set<string>()): number => {
		if (seen.has(id)) return 0;
		seen.add(id);
		const job = followers.find(({ aim }) => aim.timer === id);
		const leader = job && plan.aims.find((aim) => aim.id === job.aim.leader);
		return leader ? 1 + depth(leader.timer, seen) : 0;
	};
	const linked = new Set(followers.flatMap(({ aim }) => [aim.timer, plan.aims.find(({ id }) => id === aim.leader)?.timer]));
	staves.sort((a, b) => Number(linked.has(b.timer.id)) - Number(linked.has(a.timer.id)) || depth(a.timer.id) - depth(b.timer.id));
	const timers = staves.map(({ timer }) => timer.id);
	const arrows = followers.map((job) => arrowOf(job, plan, timers)).filter((arrow) => arrow !== undefined);
	return { ...score, staves, arrows };
}

function arrowOf(job: JobDerivation & { aim: FollowerAim }, plan: Plan, timers: readonly string[]): Arrow | undefined {
	const leader = plan.aims.find(({ id }) => id === job.aim.leader);
	if (!leader || !timers.includes(leader.timer) || !job.route) return undefined;
	const figure = (name: string): Rational | undefined => job.figures.find((one) => one.name === name)?.value;
	const lag = figure('lag');
	const latency = figure('latency');
	const acts = lag?.toNumber();
	const at = lag && latency ? lag.sub(latency).toNumber() : undefined;
	const value = job.strip.find(({ name }) => name === 'lead')?.value;
	return { follower: job.aim, from: leader.timer, to: job.aim.timer, source: job.route.source, at, acts, value, figures: job.figures };
}

/** The same followers with every third and sixth taken as a rounded percent: what that costs, in degrees, by follower. */
export function naiveLags(plan: Plan): Map<string, { typed: string; degrees: Rational }> {
	const rounded = new Map<string, string>();
	const aims = plan.aims.map((aim): Aim => {
		const share = aim.kind === 'follower' ? /^\s*(\d+)\s*\/\s*(3|6)\s*$/.exec(aim.lag) : null;
		if (!share || aim.kind !== 'follower') return aim;
		const lag = `${Math.floor((100 * Number(share[1])) / Number(share[2]))} %`;
		rounded.set(aim.id, lag);
		return { ...aim, lag };
	});
	const found = new Map<string, { typed: string; degrees: Rational }>();
	if (rounded.size === 0) return found;
	for (const { aim, figures } of derivePlan({ ...plan, aims }).jobs) {
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
		const able = reaches.filter((id) =>
			canDo(
				'follower',
				part.timers.find((timer) => timer.id === id)!
			)
		);
		const free = able.find((id) => !plan.aims.some(({ timer }) => timer === id)) ?? able[0];
		return { kind: 'no-wire', reaches: names(reaches), reached: names(reached), ...(free !== undefined && { nearest: free }) };
	}
	const leader = plan.aims.find((aim) => aim.timer === from && useKind(aim) === 'period');
	if (!leader) return { kind: 'no-leader' };
	const index = plan.aims.findIndex((aim) => aim.timer === to && aim.kind === 'follower');
	const known = plan.aims.at(index);
	if (index >= 0 && known?.kind === 'follower') {
		const next: FollowerAim = { ...known, leader: leader.id, lag, source: 'auto', input: 'auto' };
		return { kind: 'step', step: setStep(plan, ['aims', index], next, `let ${known.name} follow ${leader.name}`), aim: known.id };
	}
	const timer = part.timers.find(({ id }) => id === to)!;
	const fresh = freshJob('follower', crypto.randomUUID(), `follower ${plan.aims.length + 1}`, to, {
		leader: leader.id,
		lag,
		...('duty' in leader && { duty: leader.duty })
	});
	const placed = placedOn(fresh, timer, plan);
	if (!placed) return { kind: 'cannot' };
	return { kind: 'step', step: insertStep(['aims', plan.aims.length], placed, `let ${timer.name} follow ${leader.name}`), aim: placed.id };
}
