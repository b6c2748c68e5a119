import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { TimerProfile } from '../../part/index.js';
import { periodTicks } from '../../timer/index.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, TimerUse } from '../common/derivation.js';
import type { DerivationDraft } from '../common/draft.js';
import type { AnyAim } from '../common/schema.js';
import { firstUpdate, periodsAnUpdate } from '../common/updates.js';
import type { FollowerAim } from './schema.js';

/** The leader as a follower sees it. */
export interface Leader {
	aim: AnyAim;
	timer: TimerProfile;
	/** What enters its prescaler. */
	kernel: Hertz;
	use: TimerUse;
	/** Time of its period, and of one from an update to the next. */
	period: Seconds;
	updates: Seconds;
	/** From its start to its first update. */
	firstUpdate: Seconds;
	/** How far it is itself behind the first of its chain; zero where it is that. */
	behind: { first: string; lag: Seconds } | undefined;
}

/** The leader of a follower, with what is wrong with it said; undefined where it cannot be followed. */
export function leaderOf(draft: DerivationDraft, { leader, timer }: FollowerAim): Leader | undefined {
	const { context } = draft;
	const aim = context.aims.find(({ id }) => id === leader);
	if (!aim) {
		draft.fault({ code: 'leader-missing' });
		return undefined;
	}
	if (aim.timer === timer || ringed(context.aims, timer, aim.timer)) {
		draft.fault({ code: 'leader-ring' });
		return undefined;
	}
	const derived = context.derivationOf(aim.id);
	const { use, kernel, timer: profile } = derived ?? {};
	if (!derived || !profile || use?.kind !== 'period' || !use.counting || use.reload === undefined || !kernel) {
		// Its leader says itself what is wrong.
		draft.warn({ code: 'leader-unclear', leader: aim.name });
		return undefined;
	}
	const { mode } = use.counting;
	const period = Rational.int(periodTicks(use.counting, use.reload)!).mul(Rational.int(use.prescale)).div(kernel);
	const of = (periods: Rational) => period.mul(periods);
	return {
		aim,
		timer: profile,
		kernel,
		use,
		period,
		updates: of(periodsAnUpdate(context, profile, mode)),
		firstUpdate: of(firstUpdate(context, profile, mode)),
		behind: behindOf(context, derived)
	};
}

/** How far an aim is behind the first of its chain; undefined where it is the first, or its rate is its own. */
function behindOf(context: AimContext, { route, figures }: AimDerivation): Leader['behind'] {
	const lag = figures.find(({ name }) => name === 'lag-first') ?? figures.find(({ name }) => name === 'lag');
	if (!route || !lag) return undefined;
	const leader = context.derivationOf(route.leader);
	return { first: (leader && behindOf(context, leader)?.first) ?? route.leader, lag: lag.value };
}

/** Does a timer that follows another lead it, too, by way of others? Whoever follows takes the whole timer along. */
function ringed(aims: readonly AnyAim[], follower: string, leader: string): boolean {
	const timerOf = (id: string) => aims.find((aim) => aim.id === id)?.timer;
	const seen = new Set<string>();
	const look = [leader];
	for (let timer = look.pop(); timer !== undefined; timer = look.pop()) {
		if (timer === follower) return true;
		if (seen.has(timer)) continue;
		seen.add(timer);
		for (const aim of aims) {
			const next = aim.timer === timer && isFollower(aim) ? timerOf(aim.leader) : undefined;
			if (next !== undefined) look.push(next);
		}
	}
	return false;
}

export function isFollower(aim: AnyAim): aim is FollowerAim {
	return aim.kind === 'follower';
}
