import { MILLION, ppmError, Rational, type Seconds } from '../../exact/index.js';
import { ratioTable } from '../../solve/index.js';
import { largest } from '../../timer/index.js';
import { readSpan, readTime, readTolerance } from '../common/fields.js';
import type { OneShotAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { candidateChart, prescaleTable } from '../common/chart.js';
import { counterLink, prescaleLink, reachOf } from '../common/period.js';
import { shotOutput, ticksBehind } from './output.js';
import { nearestShot, shotAt } from './search.js';

const RANGE = [
	{ name: 'finest', unit: 's' },
	{ name: 'longest', unit: 's' },
	{ name: 'off-by-most', unit: 'ppm' }
];
/** Prescales that meet the wish exactly and are listed. */
const MOST_EXACT = 24;

/** A pulse after a trigger (timers.md 6): the prescale that comes nearest to delay and width, the finest of equals, and the ranges of the others. */
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
	const output = shotOutput(
		timer.channels.find((c) => c.id === aim.channel)!,
		aim.each
	)!;
	const behind = ticksBehind(output);
	const heldMatch = draft.held('compare', behind === 1 ? 0 : 1, most, timer.width);
	// The search counts ticks of delay; a match that acts on leaving needs one less in its register.
	const held = {
		compare: typeof heldMatch === 'number' ? heldMatch + behind : heldMatch,
		reload: draft.held('reload', 1, most, timer.width)
	};
	const { ratios } = ratioTable(timer.prescaler);
	const tried = prescale === undefined ? ratios : prescale === null ? [] : [prescale];
	const { compare: heldCompare, reload: heldReload } = held;
	const question = { kernel, delay, width, bits: timer.width, rule: timer.rule };
	const found =
		heldCompare === null || heldReload === null
			? undefined
			: nearestShot({ ...question, held: { compare: heldCompare, reload: heldReload } }, tried);
	const chosen = found?.best;
	const exact = prescale === undefined ? (found?.exact ?? []) : [];
	derivation.table = prescaleTable(
		ratios,
		chosen?.prescale,
		RANGE,
		(ratio) => {
			const step = Rational.int(ratio).div(kernel);
			const shot = shotAt({ ...question, held: {} }, ratio);
			return [step, step.mul(Rational.int(2 ** timer.width)), shot ? shot.off.mul(MILLION) : null];
		},
		exact.slice(0, MOST_EXACT)
	);
	derivation.charts = [{ ...candidateChart('range', derivation.table, 1, 2), wanted: delay.add(width).toNumber() }];
	if (!chosen) {
		if (prescale !== null) checkReach(draft, delay, width, tried);
		return derivation;
	}
	derivation.use = { aim, kind: 'alone', prescale: chosen.prescale };
	const { reload, delayTicks, pulseTicks } = chosen.made;
	const compare = chosen.made.compare - behind;
	const tick = Rational.int(chosen.prescale).div(kernel);
	const realDelay = tick.mul(Rational.int(delayTicks));
	const realWidth = tick.mul(Rational.int(pulseTicks));
	derivation.strip = [prescaleLink(timer, chosen.prescale), counterLink(timer, 'compare', compare), counterLink(timer, 'reload', reload)];
	draft.wish('delay', { value: delay, ...(tolerance && { ppm: tolerance }) });
	draft.wish('width', { value: width, ...(tolerance && { ppm: tolerance }) });
	draft.figure('delay', realDelay, 's');
	draft.figure('latency', Rational.int(input!.latency).div(kernel), 's');
	draft.figure(aim.each === 'pulse' ? 'width' : 'deaf-after', realWidth, 's');
	draft.figure('delay-error', ppmError(realDelay, delay), 'ppm');
	if (aim.each === 'pulse') draft.figure('width-error', ppmError(realWidth, width), 'ppm');
	draft.figure('tick', tick, 's');
	const numbers = { compare: Rational.int(delayTicks), reload: Rational.int(reload) };
	if (behind === 1) draft.formula('oneshot-leave', { compare: Rational.int(compare), delayTicks: Rational.int(delayTicks) });
	draft.formula('oneshot', {
		delay,
		width,
		kernel,
		prescale: Rational.int(chosen.prescale),
		delayTicks: Rational.int(delayTicks),
		widthTicks: Rational.int(pulseTicks),
		...numbers
	});
	if (exact.length > 1) draft.formula('oneshot-exact', { count: Rational.int(exact.length), prescale: Rational.int(chosen.prescale) });
	checkOff(draft, realDelay, delay, tolerance);
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
	if (!channel || !shotOutput(channel, aim.each)) return missing(aim.channel);
	if (!input?.actions.includes(aim.retrigger === 'restart' ? 'restart' : 'start')) return missing(aim.input);
	return timer.oneShot.retrigger.includes(aim.retrigger) || missing(aim.retrigger);
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
