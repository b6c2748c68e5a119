import { ppmError, Rational, type Hertz, type Seconds } from '../../exact/index.js';
import { ratioTable } from '../../solve/index.js';
import { lowerBound } from '../../trace/index.js';
import { largest, oneShotFor, wholeTicks, type OneShot } from '../../timer/index.js';
import { readSpan, readTime, readTolerance } from '../common/fields.js';
import type { OneShotAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { candidateChart, prescaleTable } from '../common/chart.js';
import { counterLink, prescaleLink, reachOf } from '../common/period.js';

const RANGE = [
	{ name: 'finest', unit: 's' },
	{ name: 'longest', unit: 's' }
];

/** A pulse after a trigger (timers.md 6): the finest prescale that holds delay and width, and the ranges of the others. */
export function deriveOneShot(aim: OneShotAim, context: AimContext): AimDerivation<OneShotAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const delay = draft.take('delay', readTime(aim.delay));
	const width = draft.take('width', readTime(aim.width));
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, undefined));
	const bounce = aim.bounce.trim() === '' ? undefined : draft.take('bounce', readSpan(aim.bounce));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const input = timer.inputs?.find((i) => i.id === aim.input);
	if (!offered(draft, aim) || !delay || !width) return derivation;
	const prescale = draft.heldPrescale();
	const most = largest(timer.width);
	const held = { compare: draft.held('compare', 1, most, timer.width), reload: draft.held('reload', 1, most, timer.width) };
	const { ratios } = ratioTable(timer.prescaler);
	const tried = prescale === undefined ? ratios : prescale === null ? [] : [prescale];
	const least = delay.add(width).mul(kernel).toNumber() / 2 ** timer.width / 2;
	const chosen =
		held.compare === null || held.reload === null
			? undefined
			: finest(tried, least, kernel, (rate) => made(held, delay, width, rate, timer.width));
	derivation.table = prescaleTable(ratios, chosen?.prescale, RANGE, (ratio) => {
		const step = Rational.int(ratio).div(kernel);
		return [step, step.mul(Rational.int(2 ** timer.width))];
	});
	derivation.charts = [{ ...candidateChart('range', derivation.table, 1, 2), wanted: delay.add(width).toNumber() }];
	if (!chosen) {
		if (prescale !== null) checkReach(draft, delay, width, tried);
		return derivation;
	}
	derivation.use = { aim, kind: 'alone', prescale: chosen.prescale };
	const { compare, reload, delayTicks, pulseTicks } = chosen.made;
	const tick = Rational.int(chosen.prescale).div(kernel);
	const realDelay = tick.mul(Rational.int(delayTicks));
	const realWidth = tick.mul(Rational.int(pulseTicks));
	derivation.strip = [prescaleLink(timer, chosen.prescale), counterLink(timer, 'compare', compare), counterLink(timer, 'reload', reload)];
	draft.figure('delay', realDelay, 's');
	draft.figure('latency', Rational.int(input!.latency).div(kernel), 's');
	draft.figure('width', realWidth, 's');
	draft.figure('delay-error', ppmError(realDelay, delay), 'ppm');
	draft.figure('width-error', ppmError(realWidth, width), 'ppm');
	draft.figure('tick', tick, 's');
	const numbers = { compare: Rational.int(compare), reload: Rational.int(reload) };
	draft.formula('oneshot', { delay, width, kernel, prescale: Rational.int(chosen.prescale), ...numbers });
	checkOff(draft, realWidth, width, tolerance);
	if (bounce) checkBounce(draft, aim, bounce, realDelay.add(realWidth));
	return derivation;
}

/** Says what the timer does not offer. */
function offered(draft: DerivationDraft, aim: OneShotAim): boolean {
	const timer = draft.derivation.timer!;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const input = timer.inputs?.find((i) => i.id === aim.input);
	const missing = (what: string) => {
		draft.fault({ code: 'place-missing', what, timer: timer.name });
		return false;
	};
	if (!timer.oneShot || !timer.modes.includes('up')) {
		draft.fault({ code: 'cannot-job', timer: timer.name, kind: 'oneshot' });
		return false;
	}
	if (!channel?.outputs.some((o) => o.model === 'level' && o.sense === 'above')) return missing(aim.channel);
	if (!input?.actions.includes(aim.retrigger === 'restart' ? 'restart' : 'start')) return missing(aim.input);
	return timer.oneShot.retrigger.includes(aim.retrigger) || missing(aim.retrigger);
}

/** Delay and width at a tick rate, around what is held. */
function made(
	held: Record<'compare' | 'reload', number | undefined | null>,
	delay: Seconds,
	width: Seconds,
	tickRate: Hertz,
	bits: number
): OneShot | null {
	if (held.compare === undefined && held.reload === undefined) return oneShotFor(delay, width, tickRate, bits);
	const delayTicks = held.compare ?? wholeTicks(delay, tickRate).ticks;
	const reload = held.reload ?? delayTicks + wholeTicks(width, tickRate).ticks - 1;
	const pulseTicks = reload + 1 - delayTicks;
	return delayTicks < 1 || pulseTicks < 1 || reload > largest(bits) ? null : { compare: delayTicks, reload, delayTicks, pulseTicks };
}

function checkReach(draft: DerivationDraft, delay: Seconds, width: Seconds, ratios: ArrayLike<number>): void {
	const { timer, kernel, aim } = draft.derivation;
	if (draft.derivation.problems.some(({ code }) => code === 'lock-refused')) return;
	const held = (['prescale', 'compare', 'reload'] as const).filter((link) => Object.hasOwn(aim.locks, link));
	const wish = delay.add(width);
	if (held.length > 0) {
		draft.fault({ code: 'locks-conflict', links: held, wish, unit: 's' });
		return;
	}
	const longest = Rational.int(ratios[ratios.length - 1])
		.mul(Rational.int(2 ** timer!.width))
		.div(kernel!);
	if (wish.compare(longest) > 0)
		draft.fault({
			code: 'time-too-long',
			wish,
			longest,
			reach: reachOf(draft.context, timer!, wish, longest).filter(({ by }) => by === 'timer')
		});
	else
		draft.fault({ code: 'time-too-short', wish: delay.compare(width) < 0 ? delay : width, shortest: Rational.int(ratios[0]).div(kernel!) });
}

function checkOff(draft: DerivationDraft, real: Seconds, wish: Seconds, tolerance: Rational | undefined): void {
	const ppm = ppmError(real, wish);
	if (!tolerance || ppm.abs().compare(tolerance) <= 0) return;
	const { locks } = draft.derivation.aim;
	const held = (['prescale', 'compare', 'reload'] as const).filter((link) => Object.hasOwn(locks, link));
	if (held.length > 0) draft.fault({ code: 'locks-conflict', links: held, got: real, wish, unit: 's' });
	else draft.fault({ code: 'time-outside', ppm, tolerance, seconds: real, wish });
}

/** Bounces within the pulse are ignored; where they restart it, or outlast it, the pulse is not the one that is wished for. */
function checkBounce(draft: DerivationDraft, { retrigger }: OneShotAim, bounce: Seconds, busy: Seconds): void {
	draft.figure('deaf', busy, 's');
	draft.figure('bounce-margin', busy.sub(bounce), 's');
	if (bounce.compare(busy) >= 0) draft.fault({ code: 'bounce-longer', bounce, pulse: busy });
	else if (retrigger === 'restart' && bounce.sign > 0) draft.warn({ code: 'bounce-restarts', bounce });
}

/** The smallest prescale of `least` or more at which the pulse can be made. */
function finest(
	ratios: ArrayLike<number>,
	least: number,
	kernel: Hertz,
	make: (tickRate: Hertz) => OneShot | null
): { prescale: number; made: OneShot } | undefined {
	// Half of what the whole pulse needs is surely too little; a held value may need less.
	const from = ratios.length > 1 ? lowerBound(ratios, ratios.length, least) : 0;
	for (let i = from; i < ratios.length; i++) {
		const found = make(kernel.div(Rational.int(ratios[i])));
		if (found) return { prescale: ratios[i], made: found };
	}
	return undefined;
}
