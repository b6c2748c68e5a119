import { ppmError, Rational, type Hertz, type Seconds } from '../../exact/index.js';
import { ratioTable } from '../../solve/index.js';
import { readDuty, readLag, readTolerance, type DutyWish, type LagWish } from '../common/fields.js';
import { pulseOn, restingPulse, type Pulse } from '../common/places.js';
import type { FollowerAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { choosePeriod, counterLink, periodLinks } from '../common/period.js';
import { choosePulse } from '../common/pulse.js';
import { leadOf, type Lead } from './lead.js';
import { leaderOf, type Leader } from './leader.js';
import { routeOf, type Route } from './route.js';

/** A timer that another aim's event starts, resets, gates or clocks (timers.md 7): the route, the lag and its own rounding. */
export function deriveFollower(aim: FollowerAim, context: AimContext): AimDerivation<FollowerAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const slaved = aim.action === 'start' || aim.action === 'reset';
	const duty = draft.take('duty', readDuty(aim.duty));
	const rate = slaved ? undefined : draft.rate('rate', aim.rate);
	const tolerance = slaved ? Rational.zero : draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const lag = slaved ? draft.take('lag', readLag(aim.lag)) : undefined;
	const lagTolerance = slaved ? draft.take('lagTolerance', readLag(aim.lagTolerance)) : undefined;
	const { timer, kernel } = derivation;
	const leader = timer && kernel ? leaderOf(draft, aim) : undefined;
	if (!timer || !kernel || !leader) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const pulse = channel && (aim.action === 'start' ? restingPulse : pulseOn)(timer, channel);
	if (!pulse) {
		draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
		return derivation;
	}
	const route = routeOf(draft, aim, leader, lag);
	if (!route) return derivation;
	if (slaved) {
		if (lag) checkThird(draft, aim.lag, lag);
		slave(draft, pulse, leader, route, { duty, lag, lagTolerance });
	} else if (rate && duty) free(draft, pulse, leader, route, { rate, tolerance, duty });
	return derivation;
}

/** Started or reset by the leader: the same period, so many cycles behind. */
function slave(
	draft: DerivationDraft,
	pulse: Pulse,
	leader: Leader,
	route: Route,
	{ duty, lag, lagTolerance }: { duty: DutyWish | undefined; lag: LagWish | undefined; lagTolerance: LagWish | undefined }
): void {
	const { derivation } = draft;
	const { action } = derivation.aim as FollowerAim;
	// What each update resets goes by the updates.
	const period = route.source === 'update' && action === 'reset' ? leader.updates : leader.period;
	const best = choosePeriod(draft, pulse.counting, period.inverse(), undefined);
	if (!best || !lag || !duty) return;
	if (best.ppm.sign !== 0) draft.fault({ code: action === 'start' ? 'drifts' : 'reset-cuts', ppm: best.ppm });
	if (best.ppm.sign !== 0 && action === 'reset' && draft.context.owner) {
		// The resets would cut the periods of the others on the timer, too: they have it.
		delete derivation.use;
		return;
	}
	const timeOf = (wish: LagWish) =>
		wish.kind === 'time'
			? wish.seconds
			: wish.kind === 'ticks'
				? wish.ticks.mul(Rational.int(leader.use.prescale)).div(leader.kernel)
				: wish.ratio.mul(leader.period);
	const wish = timeOf(lag);
	if (wish.compare(leader.period) >= 0) draft.fault({ code: 'lag-beyond', wish, period: leader.period });
	const made = leadOf(draft, leader, route, wish, action === 'start' ? 'start' : 'reset');
	if (!made) {
		// What nothing begins has no period.
		delete derivation.use;
		return;
	}
	const own = route.free && made.compare !== undefined;
	if (own) derivation.route = { ...derivation.route!, lead: made.compare! };
	derivation.strip = [...(own ? [counterLink(leader.timer, 'lead', made.compare!)] : []), ...periodLinks(derivation.timer!, best)];
	draft.figure('rate', best.hz, 'Hz');
	tellLag(draft, leader, route, { made, wish, allowed: lagTolerance && timeOf(lagTolerance) });
	choosePulse(draft, pulse, best, duty);
}

/** The lag in all its forms, and what it is off by. */
function tellLag(
	draft: DerivationDraft,
	leader: Leader,
	{ input }: Route,
	{ made, wish, allowed }: { made: Lead; wish: Seconds; allowed: Seconds | undefined }
): void {
	const latency = Rational.int(input.latency).div(draft.derivation.kernel!);
	const turn = (time: Seconds) => time.div(leader.period).mul(Rational.int(360));
	const off = made.lag.sub(wish);
	draft.wish('lag', { value: wish, ...(allowed && { absolute: allowed }) });
	draft.figure('lag', made.lag, 's');
	draft.figure('lag-degrees', turn(made.lag), 'deg');
	draft.figure('lag-off', off, 's');
	draft.figure('latency', latency, 's');
	if (leader.behind) {
		const whole = made.lag.add(leader.behind.lag);
		const first = whole.sub(leader.period.mul(Rational.of(whole.div(leader.period).floor())));
		draft.figure('lag-first', first, 's');
		draft.figure('degrees-first', turn(first), 'deg');
	}
	const numbers = { latency: Rational.int(input.latency), delay: latency, lag: made.lag, period: leader.period, degrees: turn(made.lag) };
	if (made.ticks === undefined) draft.formula('follow-event', numbers);
	else
		draft.formula('follow', {
			...numbers,
			ticks: Rational.int(made.ticks),
			prescale: Rational.int(leader.use.prescale),
			kernel: leader.kernel
		});
	if (wish.compare(latency) < 0) draft.warn({ code: 'lag-below-latency', wish, latency });
	if (allowed && off.abs().compare(allowed) > 0)
		draft.fault({ code: 'lag-outside', lag: made.lag, wish, off, allowed, degrees: turn(off) });
}

/** Gated or clocked by the leader: a rate of its own. */
function free(
	draft: DerivationDraft,
	pulse: Pulse,
	leader: Leader,
	route: Route,
	{ rate, tolerance, duty }: { rate: Hertz; tolerance: Rational | undefined; duty: DutyWish }
): void {
	const { derivation } = draft;
	const { timer, aim } = derivation;
	const latency = Rational.int(route.input.latency).div(derivation.kernel!);
	const cascade = (aim as FollowerAim).action === 'clock';
	// Each event of the leader is one kernel cycle.
	const event = cascade ? eventTime(draft, leader, route) : undefined;
	if (cascade && !event) return;
	if (event) derivation.kernel = event.inverse();
	const best = choosePeriod(draft, pulse.counting, rate, tolerance);
	if (!best) return;
	derivation.strip = periodLinks(timer!, best);
	draft.figure('rate', best.hz, 'Hz');
	draft.figure('error', ppmError(best.hz, rate), 'ppm');
	draft.figure('latency', latency, 's');
	choosePulse(draft, pulse, best, duty);
	const own = best.hz.inverse();
	if (event) {
		const { ratios } = ratioTable(timer!.prescaler);
		draft.figure('cascade-width', Rational.int(leader.timer.width + timer!.width), 'bits');
		draft.figure('longest', event.mul(Rational.int(2 ** timer!.width)).mul(Rational.int(ratios[ratios.length - 1])), 's');
		draft.formula('cascade', { leader: event, prescale: Rational.int(best.prescale), ticks: Rational.int(best.ticks), period: own });
		return;
	}
	const on = levelTime(draft, leader, route.channel!);
	if (!on) return;
	draft.figure('gate-on', on, 's');
	draft.figure('per-gate', on.div(own), '');
	draft.formula('gate', { on, own, count: on.div(own) });
	if (on.compare(own) < 0) draft.warn({ code: 'gate-short', on, period: own });
}

/** Time from one of the leader's events to the next, where they are even; says it where they are not. */
function eventTime(draft: DerivationDraft, leader: Leader, route: Route): Seconds | undefined {
	if (route.source === 'update') return leader.updates;
	if (route.channel === undefined) {
		draft.fault({ code: 'no-action', action: 'clock', input: route.input.name, timer: draft.derivation.timer!.name });
		return undefined;
	}
	const made = leadOf(draft, leader, route, Rational.zero, 'reset');
	if (!made) return undefined;
	if (route.free) draft.derivation.route = { ...draft.derivation.route!, lead: made.compare! };
	return leader.period;
}

/** For how long the leader's level is active each period: by what drives that channel, as it is set. */
function levelTime(draft: DerivationDraft, leader: Leader, channel: string): Seconds | undefined {
	const { context } = draft;
	const driver = context.onTimer(leader.timer.id).find(({ aim }) => context.channelsOf(aim).includes(channel));
	if (!driver) draft.fault({ code: 'gate-never', channel });
	if (driver?.pulse) return Rational.int(driver.pulse.activeTicks).div(driver.pulse.tickRate);
	return driver?.figures.find(({ name }) => name === 'half')?.value;
}

/** 33 % is typed, and a third is meant. */
function checkThird(draft: DerivationDraft, typed: string, lag: LagWish): void {
	if (lag.kind !== 'share' || !typed.includes('%')) return;
	for (const parts of [3, 6])
		for (let k = 1; k < parts; k++) {
			const exact = Rational.ratio(k, parts);
			const off = lag.ratio.sub(exact).abs();
			if (off.sign > 0 && off.compare(Rational.ratio(1, 200)) < 0 && Number(exact.den) === parts) {
				draft.warn({ code: 'part-as-percent', typed, exact: `${k}/${parts}` });
				return;
			}
		}
}
