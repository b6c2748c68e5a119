import { ppmError, Rational, type Hertz, type Seconds } from '../../exact/index.js';
import { routesTo, type InputProfile, type TimerProfile } from '../../part/index.js';
import { ratioTable } from '../../solve/index.js';
import { lagOf, largest, nearestLag, periodTicks } from '../../timer/index.js';
import { readDuty, readLag, readRate, readTolerance, type LagWish } from '../common/fields.js';
import { pulseOn, type Pulse } from '../common/places.js';
import { updatesAPeriod } from '../common/updates.js';
import type { FollowerAim } from './schema.js';
import type { AnyAim } from '../common/schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, TimerUse } from '../common/derivation.js';
import { choosePeriod, counterLink, periodLinks } from '../common/period.js';
import { choosePulse } from '../common/pulse.js';

/** The leader as a follower sees it. */
interface Leader {
	aim: AnyAim;
	timer: TimerProfile;
	kernel: Hertz;
	use: TimerUse;
	/** Ticks and time of its period, or of one of the beats that are followed. */
	ticks: number;
	period: Seconds;
}

/** A timer that another aim's event starts, resets, gates or clocks (timers.md 7): the route, the lag and its own rounding. */
export function deriveFollower(aim: FollowerAim, context: AimContext): AimDerivation<FollowerAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const slaved = aim.action === 'start' || aim.action === 'reset';
	const duty = draft.take('duty', readDuty(aim.duty));
	const rate = slaved ? undefined : draft.take('rate', readRate(aim.rate));
	const tolerance = slaved ? Rational.zero : draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const lag = slaved ? draft.take('lag', readLag(aim.lag)) : undefined;
	const lagTolerance = slaved ? draft.take('lagTolerance', readLag(aim.lagTolerance)) : undefined;
	const { timer, kernel } = derivation;
	const leader = timer && kernel ? leaderOf(draft, aim) : undefined;
	if (!timer || !kernel || !leader) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const pulse = channel && pulseOn(timer, channel);
	if (!pulse) {
		draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
		return derivation;
	}
	const source = sourceOf(draft, aim, leader, lag);
	if (source === undefined) return derivation;
	const input = inputOf(draft, aim, leader, source);
	if (!input) return derivation;
	derivation.route = { leader: leader.aim.id, source, input: input.id, action: aim.action, latency: input.latency };
	// What each update resets or counts goes by the updates, of which a period may have two.
	const beats = source === 'update' && aim.action !== 'start' ? updatesAPeriod(leader.timer, leader.use.counting!.mode) : 1;
	leader.period = leader.period.div(Rational.int(beats));
	if (slaved) {
		if (lag) checkThird(draft, aim.lag, lag);
		slave(draft, pulse, leader, source, input, { duty, lag, lagTolerance });
	} else if (rate && duty) free(draft, pulse, leader, input, { rate, tolerance, duty });
	return derivation;
}

/** A text field that a leader of whatever kind may have. */
function wordOf(aim: AnyAim, field: string): string | undefined {
	const value: unknown = (aim as unknown as Record<string, unknown>)[field];
	return typeof value === 'string' ? value : undefined;
}

function leaderOf(draft: DerivationDraft, { leader, timer }: FollowerAim): Leader | undefined {
	const aim = draft.context.aims.find(({ id }) => id === leader);
	if (!aim) draft.fault({ code: 'leader-missing' });
	const use = aim && draft.context.useOf(aim.id);
	if (!aim) return undefined;
	const profile = draft.context.part.timers.find(({ id }) => id === aim.timer);
	const kernel = profile && draft.context.clocks.rate(profile.kernel);
	if (aim.timer === timer || ringed(draft.context.aims, draft.derivation.aim as FollowerAim)) {
		draft.fault({ code: 'leader-ring' });
		return undefined;
	}
	if (use?.kind !== 'period' || !use.counting || use.reload === undefined || !kernel) {
		// Its leader says itself what is wrong.
		draft.warn({ code: 'leader-unclear', leader: aim.name });
		return undefined;
	}
	const ticks = periodTicks(use.counting, use.reload)!;
	return { aim, timer: profile, kernel, use, ticks, period: Rational.int(ticks * use.prescale).div(kernel) };
}

function isFollower(aim: AnyAim): aim is FollowerAim {
	return aim.kind === 'follower';
}

/** Does the aim follow itself, by way of others? */
function ringed(aims: readonly AnyAim[], aim: FollowerAim): boolean {
	const seen = new Set<string>();
	let at: AnyAim | undefined = aim;
	while (at && isFollower(at) && !seen.has(at.id)) {
		seen.add(at.id);
		const next: string = at.leader;
		at = aims.find(({ id }) => id === next);
	}
	return at?.id === aim.id;
}

/** The leader's event: the one asked for, or what suits the action. A match needs a compare that no aim has. */
function sourceOf(draft: DerivationDraft, aim: FollowerAim, leader: Leader, lag: LagWish | undefined): string | undefined {
	const { claimed } = draft.context;
	if (aim.source !== 'auto') {
		if (aim.source.startsWith('match:')) claimed.add(`${leader.timer.id} ${aim.source.slice(6)}`);
		return aim.source;
	}
	if (aim.action === 'gate') return `level:${wordOf(leader.aim, 'channel') ?? leader.timer.channels[0]?.id ?? 'none'}`;
	if (aim.action === 'clock') return 'update';
	const none = lag?.kind === 'time' ? lag.seconds.sign === 0 : lag?.ratio.sign === 0;
	if (none) return aim.action === 'start' ? 'start' : 'update';
	const free = leader.timer.channels.find(
		({ id }) => !claimed.has(`${leader.timer.id} ${id}`) && (leader.timer.sources ?? []).includes(`match:${id}`)
	);
	if (!free) {
		draft.fault({ code: 'leader-full', leader: leader.aim.name, timer: leader.timer.name });
		return undefined;
	}
	claimed.add(`${leader.timer.id} ${free.id}`);
	return `match:${free.id}`;
}

/** The trigger input that the event reaches by the part's wiring. */
function inputOf(draft: DerivationDraft, aim: FollowerAim, leader: Leader, source: string): InputProfile | undefined {
	const { timer } = draft.derivation;
	const routes = routesTo(draft.context.part, timer!.id);
	const reached = routes.filter(({ from }) => from.timer === leader.timer.id && from.sources.includes(source)).map(({ to }) => to.input);
	const wanted = aim.input === 'auto' ? reached : reached.filter((id) => id === aim.input);
	const inputs = (timer!.inputs ?? []).filter(({ id }) => wanted.includes(id));
	const able = inputs.find(({ actions }) => actions.includes(aim.action));
	if (able) return able;
	if (inputs.length > 0) {
		draft.fault({ code: 'no-action', action: aim.action, input: inputs[0].name, timer: timer!.name });
		return undefined;
	}
	const nearest = nearestRoute(draft, aim, leader, source);
	draft.fault({
		code: 'no-route',
		event: source,
		from: leader.timer.name,
		to: timer!.name,
		input: aim.input,
		...(nearest && { nearest })
	});
	return undefined;
}

/** Another input of the timer, or another timer that can follow in the same way. */
function nearestRoute(
	{ context: { part }, derivation }: DerivationDraft,
	aim: FollowerAim,
	leader: Leader,
	source: string
): { input: string; timer: string } | undefined {
	const own = [derivation.timer!, ...part.timers.filter((one) => one !== derivation.timer && one !== leader.timer)];
	for (const timer of own) {
		const route = routesTo(part, timer.id).find(
			({ from, to }) =>
				from.timer === leader.timer.id &&
				from.sources.includes(source) &&
				timer.inputs?.some(({ id, actions }) => id === to.input && actions.includes(aim.action)) &&
				timer.channels.some((channel) => pulseOn(timer, channel))
		);
		if (route) return { input: route.to.input, timer: timer.id };
	}
	return undefined;
}

/** Started or reset by the leader: the same period, so many cycles behind. */
function slave(
	draft: DerivationDraft,
	pulse: Pulse,
	leader: Leader,
	source: string,
	input: InputProfile,
	{
		duty,
		lag,
		lagTolerance
	}: { duty: Parameters<typeof choosePulse>[3] | undefined; lag: LagWish | undefined; lagTolerance: LagWish | undefined }
): void {
	const { derivation } = draft;
	const { timer, kernel } = derivation;
	const latency = Rational.int(input.latency).div(kernel!);
	const best = choosePeriod(draft, pulse.counting, leader.period.inverse(), undefined);
	if (!best || !lag || !duty) return;
	if (best.ppm.sign !== 0 && (derivation.aim as FollowerAim).action === 'start') draft.fault({ code: 'drifts', ppm: best.ppm });
	const wish = lag.kind === 'time' ? lag.seconds : lag.ratio.mul(leader.period);
	if (wish.compare(leader.period) >= 0) draft.fault({ code: 'lag-beyond', wish, period: leader.period });
	const match = source.startsWith('match:');
	const held = match ? draft.held('lead', 0, largest(leader.timer.width), leader.timer.width) : undefined;
	if (held === null) return;
	const made = match ? lead(leader, kernel!, input.latency, wish, held) : { compare: undefined, lag: latency };
	derivation.strip = [
		...(made.compare === undefined ? [] : [counterLink(leader.timer, 'lead', made.compare)]),
		...periodLinks(timer!, best)
	];
	draft.figure('rate', best.hz, 'Hz');
	const turn = (time: Seconds) => time.div(leader.period).mul(Rational.int(360));
	draft.figure('lag', made.lag, 's');
	draft.figure('lag-degrees', turn(made.lag), 'deg');
	draft.figure('lag-off', made.lag.sub(wish), 's');
	draft.figure('latency', latency, 's');
	choosePulse(draft, pulse, best, duty);
	const numbers = { latency: Rational.int(input.latency), lag: made.lag, period: leader.period, degrees: turn(made.lag) };
	if (made.compare === undefined) draft.formula('follow-event', numbers);
	else
		draft.formula('follow', {
			...numbers,
			compare: Rational.int(made.compare),
			prescale: Rational.int(leader.use.prescale),
			kernel: leader.kernel
		});
	if (wish.compare(latency) < 0) draft.warn({ code: 'lag-below-latency', wish, latency });
	const allowed = lagTolerance && (lagTolerance.kind === 'time' ? lagTolerance.seconds : lagTolerance.ratio.mul(leader.period));
	const off = made.lag.sub(wish);
	if (allowed && off.abs().compare(allowed) > 0)
		draft.fault({ code: 'lag-outside', lag: made.lag, wish, off, allowed, degrees: turn(off) });
}

function lead(leader: Leader, kernel: Hertz, latency: number, wish: Seconds, held: number | undefined): { compare: number; lag: Seconds } {
	const { counting, reload, prescale } = leader.use;
	const down = counting!.mode === 'down';
	const last = counting!.mode === 'updown' || counting!.rule === 'inclusive' || reload === 0 ? reload! : reload! - 1;
	const setting = { leader: { kernel: leader.kernel, prescale, last }, follower: { kernel, latency } };
	// A down counter meets C after R - C ticks.
	if (held !== undefined) {
		const ticks = Math.max(0, down ? reload! - held : held);
		return { compare: held, lag: lagOf(setting, ticks) };
	}
	const found = nearestLag(setting, wish);
	return down ? { ...found, compare: reload! - found.compare } : found;
}

/** Gated or clocked by the leader: a rate of its own. */
function free(
	draft: DerivationDraft,
	pulse: Pulse,
	leader: Leader,
	input: InputProfile,
	{ rate, tolerance, duty }: { rate: Hertz; tolerance: Rational | undefined; duty: Parameters<typeof choosePulse>[3] }
): void {
	const { derivation } = draft;
	const { timer, aim } = derivation;
	const latency = Rational.int(input.latency).div(derivation.kernel!);
	const cascade = (aim as FollowerAim).action === 'clock';
	// Each update of the leader is one kernel cycle.
	if (cascade) derivation.kernel = leader.period.inverse();
	const best = choosePeriod(draft, pulse.counting, rate, tolerance);
	if (!best) return;
	derivation.strip = periodLinks(timer!, best);
	draft.figure('rate', best.hz, 'Hz');
	draft.figure('error', ppmError(best.hz, rate), 'ppm');
	draft.figure('latency', latency, 's');
	choosePulse(draft, pulse, best, duty);
	const own = best.hz.inverse();
	if (cascade) {
		const { ratios } = ratioTable(timer!.prescaler);
		draft.figure('cascade-width', Rational.int(leader.timer.width + timer!.width), 'bits');
		draft.figure('longest', leader.period.mul(Rational.int(2 ** timer!.width)).mul(Rational.int(ratios[ratios.length - 1])), 's');
		draft.formula('cascade', {
			leader: leader.period,
			prescale: Rational.int(best.prescale),
			ticks: Rational.int(best.ticks),
			period: own
		});
		return;
	}
	const on = levelTime(leader);
	if (!on) return;
	draft.figure('gate-on', on, 's');
	draft.figure('per-gate', on.div(own), '');
	draft.formula('gate', { on, own, count: on.div(own) });
	if (on.compare(own) < 0) draft.warn({ code: 'gate-short', on, period: own });
}

/** For how long the leader's level is active each period: by its duty, as far as that is a plain share or time. */
function levelTime(leader: Leader): Seconds | undefined {
	const typed = wordOf(leader.aim, 'duty');
	const duty = typed === undefined ? undefined : readDuty(typed);
	if (!duty?.ok) return undefined;
	switch (duty.value.kind) {
		case 'ratio':
			return duty.value.ratio.mul(leader.period);
		case 'on':
			return duty.value.seconds;
		case 'off':
			return leader.period.sub(duty.value.seconds);
		case 'ticks':
			return duty.value.ticks.mul(Rational.int(leader.use.prescale)).div(leader.kernel);
	}
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
