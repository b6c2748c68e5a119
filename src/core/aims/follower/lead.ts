import { Rational, type Seconds } from '../../exact/index.js';
import { lagOf, largest, nearestLag } from '../../timer/index.js';
import type { DerivationDraft } from '../common/draft.js';
import type { Leader } from './leader.js';
import type { Route } from './route.js';

/** How a leader's event lies behind the begin of its period, once it acts: the compare where it is a match, and the lag. */
export interface Lead {
	compare?: number;
	/** Ticks of the leader from the begin of its period to the match. */
	ticks?: number;
	lag: Seconds;
}

/** The lag of a follower by its route: of a match whose compare can be chosen the one nearest to the wish, otherwise what comes of it. Says what is wrong; undefined where nothing ever comes, or comes twice. */
export function leadOf(draft: DerivationDraft, leader: Leader, route: Route, wish: Seconds, action: 'start' | 'reset'): Lead | undefined {
	const kernel = draft.derivation.kernel!;
	const latency = Rational.int(route.input.latency).div(kernel);
	if (route.channel === undefined) {
		// A reset by each update begins each of the stretches; a start comes with the first.
		const event =
			route.source === 'update' ? within(leader.firstUpdate, action === 'reset' ? leader.updates : leader.period) : Rational.zero;
		const seen = Rational.of(-event.mul(kernel).neg().floor()).div(kernel);
		return { lag: seen.add(latency) };
	}
	const chosen = route.free ? chosenCompare(draft, leader, route, wish, action) : takenCompare(draft, leader, route.channel);
	if (chosen === undefined) return undefined;
	const { compare, late } = chosen;
	const ticks = ticksTo(leader, compare);
	if (ticks === undefined) {
		draft.fault({ code: 'lead-unmet', compare, channel: route.channel });
		return undefined;
	}
	if (action === 'reset' && leader.use.counting!.mode === 'updown' && compare !== 0 && compare !== leader.use.reload) {
		draft.fault({ code: 'lead-twice', compare, reload: leader.use.reload! });
		return undefined;
	}
	return { compare, ticks: ticks + late, lag: lagOf(settingOf(leader, draft, route), ticks + late) };
}

/** What is left of a time when whole periods are taken off. */
function within(time: Seconds, period: Seconds): Seconds {
	return time.sub(period.mul(Rational.of(time.div(period).floor())));
}

function settingOf({ kernel, use }: Leader, { derivation }: DerivationDraft, { input }: Route) {
	return { leader: { kernel, prescale: use.prescale }, follower: { kernel: derivation.kernel!, latency: input.latency } };
}

/** A compare that no aim has: held, shared with another follower, or the nearest to the wish. */
function chosenCompare(
	draft: DerivationDraft,
	leader: Leader,
	route: Route,
	wish: Seconds,
	action: 'start' | 'reset'
): { compare: number; late: number } | undefined {
	const held = draft.held('lead', 0, largest(leader.timer.width), leader.timer.width);
	if (held === null) return undefined;
	const decided = route.lead ?? held;
	if (decided !== undefined) return { compare: decided, late: 0 };
	const { counting, reload } = leader.use;
	const setting = settingOf(leader, draft, route);
	if (action === 'reset' && counting!.mode === 'updown') {
		// Only the matches at the turns come once a period.
		const off = (compare: number) => lagOf(setting, compare).sub(wish).abs();
		return { compare: off(reload!).compare(off(0)) < 0 ? reload! : 0, late: 0 };
	}
	const { ticks } = nearestLag(setting, wish, lastTick(leader));
	return { compare: compareAt(leader, ticks), late: 0 };
}

/** The compare of a channel that an aim drives already. */
function takenCompare(draft: DerivationDraft, leader: Leader, channel: string): { compare: number; late: number } | undefined {
	const { context } = draft;
	const driver = context.onTimer(leader.timer.id).find(({ aim }) => context.channelsOf(aim).includes(channel));
	if (driver?.run.rows) {
		draft.fault({ code: 'lead-moves', channel, other: driver.aim.name });
		return undefined;
	}
	const compare = driver?.pulse?.compare ?? driver?.strip.find(({ name }) => name === 'compare')?.value;
	if (compare === undefined) {
		draft.warn({ code: 'leader-unclear', leader: driver?.aim.name ?? leader.aim.name });
		return undefined;
	}
	const leaves = driver?.pulse?.rule === 'leave' || driver?.pulse?.rule === 'left';
	return { compare, late: leaves ? 1 : 0 };
}

/** The most ticks after the begin of a period at which a match can come; going up where it counts both ways. */
function lastTick({ use: { counting, reload } }: Leader): number {
	const { mode, rule } = counting!;
	return mode === 'updown' || rule === 'inclusive' ? reload! : (reload === 0 ? 2 ** counting!.width : reload!) - 1;
}

/** Ticks from the begin of a period to a match, going up where it counts both ways; undefined where the value is never held. */
function ticksTo(leader: Leader, compare: number): number | undefined {
	const { counting, reload } = leader.use;
	const down = counting!.mode === 'down';
	// An exclusive down counter whose reload 0 stands for all holds 0 first.
	const ticks = !down ? compare : reload === 0 ? (2 ** counting!.width - compare) % 2 ** counting!.width : reload! - compare;
	return ticks >= 0 && ticks <= lastTick(leader) ? ticks : undefined;
}

function compareAt(leader: Leader, ticks: number): number {
	const { counting, reload } = leader.use;
	if (counting!.mode !== 'down') return ticks;
	return reload === 0 ? (2 ** counting!.width - ticks) % 2 ** counting!.width : reload! - ticks;
}
