import { ppmError, Rational, type Hertz, type Ppm, type Seconds } from '../../exact/index.js';
import { prescaleCode, type CountingMode, type TimerProfile } from '../../part/index.js';
import { nearestTap, ratioTable } from '../../solve/index.js';
import { largest, preloadFor, wholeTicks } from '../../timer/index.js';
import { readTolerance, readWhole } from '../common/fields.js';
import { periodsAnUpdate, updatesAPeriod } from '../common/updates.js';
import { choiceTable, type TickChoice } from './choices.js';
import { tellElapsed } from './elapsed.js';
import { postscaleFor } from './postscale.js';
import type { TickAim } from './schema.js';
import { candidateChart } from '../common/chart.js';
import { digitsOf, tellRound } from '../common/roundTick.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, LinkName } from '../common/derivation.js';
import { choosePeriod, counterLink, periodLinks, prescaleLink, reachOf } from '../common/period.js';

const DAY = Rational.int(86_400);
const MOST_TRIED = 256;

/** What a wish for an even tick reads as. */
export interface TickWish {
	rate: Hertz;
	tolerance: Ppm | undefined;
	/** Core cycles of the service; 0 where none is needed. */
	service: number;
}

/** An even tick in any way of counting (timers.md 3): settings, error, drift, and what serving it costs. */
export function deriveTick(aim: TickAim, context: AimContext): AimDerivation<TickAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const rate = draft.rate('every', aim.every);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const service = draft.cycles('service', aim.service);
	const readings =
		aim.from.trim() === '' && aim.to.trim() === ''
			? undefined
			: [aim.from, aim.to].map((text, i) => draft.take(i === 0 ? 'from' : 'to', readWhole(text, 0)));
	const { timer, kernel } = derivation;
	if (!timer || !kernel || !rate || service === undefined) return derivation;
	const made = makeTick(draft, aim, { rate, tolerance, service: aim.notice === 'hardware' ? 0 : service });
	if (!made) return derivation;
	if (aim.notice === 'interrupt') checkInterrupt(draft, aim.mode);
	if (readings) tellElapsed(draft, aim.mode, readings, made.tick);
	return derivation;
}

/** The tick's setting with its strip, figures and findings; undefined when there is none. */
export function makeTick(
	draft: DerivationDraft,
	{ mode }: { mode: CountingMode },
	wish: TickWish
): { period: Seconds; tick: Seconds } | undefined {
	const { derivation, core } = draft;
	const { kernel, timer } = derivation;
	if (!timer!.modes.includes(mode)) {
		draft.fault({ code: 'mode-missing', mode, timer: timer!.name });
		return undefined;
	}
	const choice = mode === 'up' || mode === 'down' || mode === 'updown' ? counted(draft, mode, wish) : other(draft, mode, wish);
	if (!choice) return undefined;
	const seconds = wish.rate.inverse();
	const tick = Rational.int(choice.prescale).div(kernel!);
	const period = tick.mul(Rational.int(choice.ticks));
	// As of every rate: above zero is too fast.
	const ppm = ppmError(period.inverse(), wish.rate);
	draft.wish('rate', { value: wish.rate, ...(wish.tolerance && { ppm: wish.tolerance }) });
	derivation.run.interval = { ticks: choice.ticks, seconds: period, value: choice.value, late: choice.late };
	draft.figure('period', period, 's');
	draft.figure('rate', period.inverse(), 'Hz');
	// Two ticks a period.
	draft.figure('toggled', period.mul(Rational.int(2)).inverse(), 'Hz');
	draft.figure('error', ppm, 'ppm');
	draft.figure('drift', ppm.mul(DAY).div(Rational.int(1_000_000)), 's/day');
	draft.figure('tick', tick, 's');
	draft.formula('tick', { kernel: kernel!, prescale: Rational.int(choice.prescale), wish: seconds, ticks: Rational.int(choice.ticks) });
	const numbers = { ticks: Rational.int(choice.ticks), value: Rational.int(choice.value), late: Rational.int(choice.late) };
	const { count } = draft.context.repeatOn(timer!.id);
	const counts = mode === 'up' || mode === 'down' || mode === 'updown';
	if (counts && count > 0) draft.formula('repeated', { periods: Rational.int(count + 1), ...numbers });
	else
		draft.formula(updatesAPeriod(draft.context, timer!, mode) === 2 ? 'updown-twice' : mode, {
			...numbers,
			full: Rational.int(2 ** timer!.width)
		});
	if (choice.roundest) tellRound(draft, choice.prescale);
	if (core && wish.service > 0) checkLoad(draft, wish.service, period);
	return { period, tick };
}

function checkLoad(draft: DerivationDraft, service: number, period: Seconds): void {
	const time = draft.time(service);
	const load = time.div(period);
	draft.figure('service', time, 's');
	draft.figure('load', load, '%');
	if (draft.derivation.problems.some(({ severity }) => severity === 'fault')) return;
	if (load.compare(Rational.one) >= 0) draft.fault({ code: 'service-over-period', load });
	else if (load.compare(Rational.ratio(1, 2)) > 0) draft.warn({ code: 'service-heavy', load });
}

function counted(draft: DerivationDraft, mode: 'up' | 'down' | 'updown', { rate, tolerance }: TickWish): TickChoice | undefined {
	const { timer } = draft.derivation;
	// A tick is an update: a counter that can only update at both ends has two a period, a repeat count leaves some out.
	const counting = { mode, rule: timer!.rule, width: timer!.width };
	const updates = periodsAnUpdate(draft.context, timer!, mode);
	const post = postscaleFor(draft, counting, rate.mul(updates));
	if (post === null) return undefined;
	const share = updates.mul(Rational.int(post));
	const best = choosePeriod(draft, counting, rate, tolerance, { share });
	if (!best) return undefined;
	draft.derivation.strip = periodLinks(timer!, best);
	if (timer!.postscale) {
		draft.derivation.strip.push({ name: 'postscale', value: post, holds: true, register: { value: post - 1, width: 4 } });
		if (post > 1) draft.formula('postscale', { post: Rational.int(post) });
	}
	return { prescale: best.prescale, value: best.reload, ticks: Number(share.mul(Rational.int(best.ticks)).num), late: 0 };
}

/** The ways of counting without a reload: every prescale is tried, and the nearest is taken, a tie taking the smaller. */
function other(draft: DerivationDraft, mode: CountingMode, wish: TickWish): TickChoice | undefined {
	const { derivation, context } = draft;
	const { timer, aim } = derivation;
	const register = REGISTER[mode];
	const prescale = context.owner ? context.owner.prescale : draft.heldPrescale();
	const value =
		register === undefined
			? undefined
			: draft.held(register, 0, register === 'bit' ? timer!.tap!.to : largest(timer!.width), register === 'bit' ? undefined : timer!.width);
	if (prescale === null || value === null) return undefined;
	const ratios = prescale === undefined ? likely(timer!, mode, derivation.kernel!.div(wish.rate).toNumber()) : [prescale];
	const held = prescale !== undefined || value !== undefined;
	const choices = ratios.flatMap((ratio) => choiceAt(draft, mode, ratio, wish, value) ?? []);
	const seconds = wish.rate.inverse();
	const tickDigits = ({ prescale: ratio }: TickChoice) => digitsOf(Rational.int(ratio).div(derivation.kernel!));
	const offOf = (choice: TickChoice) =>
		Rational.int(choice.prescale * choice.ticks)
			.div(derivation.kernel!)
			.sub(seconds)
			.abs();
	let best: TickChoice | undefined;
	let alike = false;
	for (const choice of choices) {
		const order = best ? offOf(choice).compare(offOf(best)) : -1;
		// Of equals the one whose tick is said most easily.
		const rounder = order === 0 && tickDigits(choice) < tickDigits(best!);
		if (order === 0) alike = true;
		else if (order < 0) alike = false;
		if (order < 0 || rounder) best = choice;
	}
	if (best && alike && Number.isFinite(tickDigits(best))) best = { ...best, roundest: true };
	checkReach(draft, mode, wish, best, held);
	if (!best) return undefined;
	derivation.use = { aim, kind: mode === 'free' || mode === 'advance' ? 'free' : 'alone', prescale: best.prescale };
	if (context.owner) derivation.sharedWith = context.owner.aim;
	derivation.strip = [prescaleLink(timer!, best.prescale)];
	if (register === 'bit') derivation.strip.push({ name: register, value: best.value, holds: true });
	else if (register) derivation.strip.push(counterLink(timer!, register, best.value));
	derivation.table = choiceTable(choices, best, derivation.kernel!, seconds, (ratio) =>
		prescaleCode(timer!.prescaler, ratio) === undefined ? undefined : choiceAt(draft, mode, ratio, wish, value)
	);
	derivation.charts = [candidateChart('error', derivation.table, 2, 3)];
	if (best.late > 0 && (mode === 'clear' || mode === 'preload')) {
		const better = timer!.modes.find((one): one is 'up' | 'advance' => one === 'up' || one === 'advance');
		draft.warn({ code: 'software-late', ticks: best.late, mode, ...(better && { better }) });
	}
	return best;
}

/** Of a long list the ratios that come nearest, by plain numbers: the exact choice is made among them. */
function likely({ prescaler, width, tap }: TimerProfile, mode: CountingMode, cycles: number): number[] {
	const { ratios } = ratioTable(prescaler);
	if (ratios.length <= MOST_TRIED) return [...ratios];
	const off = (ratio: number) => {
		const wanted = cycles / ratio;
		const bit = Math.min(tap?.to ?? 0, Math.max(tap?.from ?? 0, Math.round(Math.log2(wanted)) - 1));
		const ticks = mode === 'free' ? 2 ** width : mode === 'tap' ? 2 ** (bit + 1) : Math.min(2 ** width, Math.max(1, Math.round(wanted)));
		return Math.abs(ratio * ticks - cycles);
	};
	return [...ratios]
		.map((ratio) => ({ ratio, off: off(ratio) }))
		.sort((a, b) => a.off - b.off || a.ratio - b.ratio)
		.slice(0, MOST_TRIED)
		.map(({ ratio }) => ratio)
		.sort((a, b) => a - b);
}

function choiceAt(
	draft: DerivationDraft,
	mode: CountingMode,
	prescale: number,
	{ rate, service }: TickWish,
	held: number | undefined
): TickChoice | undefined {
	const { timer, kernel } = draft.derivation;
	const { width } = timer!;
	if (mode === 'tap') {
		const bits: [number, number] = held === undefined ? [timer!.tap!.from, timer!.tap!.to] : [held, held];
		const { bit } = nearestTap(kernel!, [prescale], bits, rate);
		return { prescale, value: bit, ticks: 2 ** (bit + 1), late: 0 };
	}
	const tickRate = kernel!.div(Rational.int(prescale));
	const software = mode === 'clear' || (mode === 'preload' && timer!.preload === 'software');
	// What software does within a tick costs none: it is late by the ticks that have passed when it comes.
	const late = software ? Number(draft.time(service).mul(tickRate).floor()) : 0;
	if (held !== undefined) return { prescale, value: held, ticks: ticksOf(mode, held, width, late), late };
	const ticks = mode === 'free' ? 2 ** width : wholeTicks(rate.inverse(), tickRate).ticks;
	const value = registerFor(mode, ticks, width, late);
	return value === null ? undefined : { prescale, value, ticks, late };
}

function registerFor(mode: CountingMode, ticks: number, width: number, late: number): number | null {
	if (mode === 'free') return 0;
	if (mode === 'preload') return preloadFor(ticks, width, late);
	if (mode === 'advance') return ticks >= 1 && ticks <= largest(width) ? ticks : null;
	const compare = ticks - 1 - late;
	return compare >= 0 && compare <= largest(width) ? compare : null;
}

/** The other way round: the ticks that a register's value makes. */
function ticksOf(mode: CountingMode, value: number, width: number, late: number): number {
	if (mode === 'preload') return 2 ** width - value + late;
	return mode === 'advance' ? (value === 0 ? 2 ** width : value) : value + 1 + late;
}

const REGISTER: Partial<Record<CountingMode, LinkName>> = { preload: 'preload', tap: 'bit', advance: 'advance', clear: 'compare' };

/** Says that a time is out of the timer's reach, or off. */
function checkReach(
	draft: DerivationDraft,
	mode: CountingMode,
	{ rate, tolerance }: TickWish,
	best: TickChoice | undefined,
	held: boolean
): void {
	const { derivation, context } = draft;
	const wish = rate.inverse();
	const real = best && Rational.int(best.prescale * best.ticks).div(derivation.kernel!);
	const ppm = real && ppmError(real.inverse(), rate);
	if (ppm && tolerance && ppm.abs().compare(tolerance) <= 0) return;
	if (draft.context.owner && real && tolerance) {
		draft.fault({ code: 'reload-shared', other: draft.context.owner.aim.name, hz: real.inverse(), wish: rate });
		return;
	}
	if (held && real && tolerance) {
		draft.fault({
			code: 'locks-conflict',
			links: Object.keys(derivation.aim.locks) as LinkName[],
			got: real.inverse(),
			wish: rate,
			unit: 'Hz'
		});
		return;
	}
	const [shortest, longest] = span(derivation.timer!, mode, derivation.kernel!);
	if (wish.compare(longest) > 0)
		draft.fault({ code: 'time-too-long', wish, longest, reach: reachOf(context, derivation.timer!, wish, longest) });
	else if (wish.compare(shortest) < 0) draft.fault({ code: 'time-too-short', wish, shortest });
	else if (ppm && tolerance) draft.fault({ code: 'time-outside', ppm, tolerance, seconds: real, wish });
}

/** Shortest and longest interval that a way of counting without a reload makes at all. */
function span({ prescaler, width, tap }: TimerProfile, mode: CountingMode, kernel: Hertz): [Seconds, Seconds] {
	const { ratios } = ratioTable(prescaler);
	const at = (ratio: number, ticks: number) => Rational.int(ratio).mul(Rational.int(ticks)).div(kernel);
	const few = mode === 'free' ? 2 ** width : mode === 'tap' ? 2 ** (tap!.from + 1) : 1;
	const many = mode === 'tap' ? 2 ** (tap!.to + 1) : mode === 'advance' ? largest(width) : 2 ** width;
	return [at(ratios[0], few), at(ratios[ratios.length - 1], many)];
}

/** An interrupt is asked for where the part has one for it. */
function checkInterrupt(draft: DerivationDraft, mode: CountingMode): void {
	const { timer } = draft.derivation;
	const events = mode === 'advance' || mode === 'clear' ? timer!.channels.map(({ id }) => `match:${id}`) : ['update', 'overflow'];
	const { interrupts } = timer!;
	if (interrupts && !interrupts.some(({ on }) => events.some((event) => on.includes(event))))
		draft.warn({ code: 'no-interrupt', timer: timer!.name, event: events[0] ?? 'match' });
}
