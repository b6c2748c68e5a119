import { routesTo, type PartProfile, type TimerProfile } from '../../core/part/index.js';
import {
	derivePlan,
	freshJob,
	insertStep,
	placedOn,
	planSystem,
	setStep,
	useKind,
	type Aim,
	type FollowerAim,
	type JobDerivation,
	type Plan,
	type PlanDerivation,
	type Step
} from '../../core/plan/index.js';
import { EdgeRecorder, Simulation } from '../../core/sim/index.js';
import type { Rational } from '../../core/exact/index.js';

/** One timer's stave: its counter over the score's time, as the simulator counts it. */
export interface Stave {
	timer: TimerProfile;
	/** Aims on it, in the plan's order. */
	aims: Aim[];
	reload: number;
	/** The largest value that is drawn. */
	top: number;
	/** It counts too fast for its ramps to be told apart here. */
	dense: boolean;
	/** The counter at even times over the score. */
	values: number[];
	/** Lines at compares: whose they are, and where they lie. */
	compares: { channel: string; value: number; lead: boolean }[];
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

export interface Score {
	seconds: number;
	staves: Stave[];
	arrows: Arrow[];
}

export const SAMPLES = 1600;
/** A period of fewer samples than that is drawn as a band. */
const LEAST_SAMPLES = 12;
const PERIODS = 2.25;
const MOST_MOMENTS = 200_000;
const CHUNK = 1000;

/** The plan's timers as a score: over a little more than two periods of the slowest timer that leads another, or of the slowest at all. */
export function scoreOf(derivation: PlanDerivation): Score {
	const { plan } = derivation;
	const { system, unit } = planSystem(derivation);
	const rate = unit.inverse().toNumber();
	const followers = derivation.jobs.filter(
		(job): job is JobDerivation & { aim: FollowerAim } => job.aim.kind === 'follower' && job.route !== undefined
	);
	const leaders = new Set(followers.map(({ aim }) => plan.aims.find(({ id }) => id === aim.leader)?.timer));
	const periodOf = (id: string) => {
		const timer = system.timers.find((one) => one.id === id)!;
		return ((timer.mode === 'updown' ? 2 * timer.reload : timer.reload + 1) * timer.prescale * timer.kernel) / rate;
	};
	const weighed = system.timers.filter(({ id }) => leaders.size === 0 || leaders.has(id));
	const seconds = PERIODS * Math.max(1e-9, ...weighed.map(({ id }) => periodOf(id)));
	const simulation = new Simulation(system, new EdgeRecorder());
	const values = system.timers.map((): number[] => []);
	// A very fast timer beside a very slow one is not worth every edge here: then the ramps end where the count of moments does.
	let moments = MOST_MOMENTS;
	for (let k = 0; k <= SAMPLES && moments > 0; k++) {
		const until = Math.max(1, Math.round((k / SAMPLES) * seconds * rate));
		while (moments > 0 && !simulation.runTo(until, CHUNK)) moments -= CHUNK;
		if (moments > 0) system.timers.forEach((_, i) => values[i].push(simulation.valueOf(i)));
	}
	const staves = system.timers.map((timer, i): Stave => {
		const profile = plan.part.timers.find(({ id }) => id === timer.id)!;
		return {
			timer: profile,
			aims: plan.aims.filter((aim) => aim.timer === timer.id),
			reload: timer.reload,
			dense: (periodOf(timer.id) / seconds) * SAMPLES < LEAST_SAMPLES,
			top: Math.max(1, timer.reload, ...values[i]),
			values: values[i],
			compares: timer.channels.map(({ id, compare, output }) => ({ channel: id, value: compare, lead: output.model === 'none' }))
		};
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
	return {
		seconds,
		staves,
		arrows: followers
			.map((job) =>
				arrowOf(
					job,
					plan,
					system.timers.map(({ id }) => id)
				)
			)
			.filter((arrow) => arrow !== undefined)
	};
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
	| { kind: 'no-wire'; reaches: string[]; reached: string[] }
	| { kind: 'no-leader' }
	| { kind: 'cannot' };

/** Lets one timer follow another, so many ticks of a compare behind: its follower is given the new leader, or a new one is added. */
export function linkStep(plan: Plan, from: string, to: string, lag: string): LinkAnswer {
	const { part } = plan;
	if (wiresBetween(part, from, to).length === 0) {
		const names = (ids: readonly string[]) => part.timers.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
		const reaches = part.timers.filter(({ id }) => wiresBetween(part, from, id).length > 0).map(({ id }) => id);
		const reached = part.timers.filter(({ id }) => wiresBetween(part, id, to).length > 0).map(({ id }) => id);
		return { kind: 'no-wire', reaches: names(reaches), reached: names(reached) };
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
