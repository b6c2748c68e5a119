import { ppmError, Rational, type Hertz, type Ppm, type Seconds } from '../../exact/index.js';
import type { CountingMode, TimerProfile } from '../../part/index.js';
import { nearestTap, ratioTable } from '../../solve/index.js';
import { elapsedTicks, largest, preloadFor, wholeTicks } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readRate, readTolerance, readWhole } from '../fields.js';
import { updatesAPeriod } from '../updates.js';
import type { DividedAim, TickAim } from './aims.js';
import { candidateChart } from './chart.js';
import { JobBench, type JobDerivation, type JobTable, type LinkName, type Surroundings } from './job.js';
import { choosePeriod, counterLink, periodLinks, prescaleLink, reachOf } from './period.js';

const DAY = Rational.int(86_400);
const MOST_ROWS = 12;
const MOST_TRIED = 256;

/** A setting that makes an even tick. `value` is the mode's own register, as in Interval. */
interface TickChoice {
	prescale: number;
	value: number;
	/** Ticks from event to event. */
	ticks: number;
	late: number;
}

/** What a wish for an even tick reads as. */
export interface TickWish {
	rate: Hertz;
	tolerance: Ppm | undefined;
	/** Core cycles of the service; 0 where none is needed. */
	service: number;
}

/** An even tick in any way of counting (timers.md 3): settings, error, drift, and what serving it costs. */
export function deriveTick(plan: Plan, aim: TickAim, clocks: PlanClocks, around: Surroundings): JobDerivation {
	const bench = new JobBench(plan, aim, clocks, around);
	const { derivation } = bench;
	const rate = bench.take('every', readRate(aim.every));
	const tolerance = bench.take('tolerance', readTolerance(aim.tolerance, rate));
	const service = bench.cycles('service', aim.service);
	const readings =
		aim.from.trim() === '' && aim.to.trim() === ''
			? undefined
			: [aim.from, aim.to].map((text, i) => bench.take(i === 0 ? 'from' : 'to', readWhole(text, 0)));
	const { timer, kernel } = derivation;
	if (!timer || !kernel || !rate || service === undefined) return derivation;
	const made = makeTick(bench, aim, { rate, tolerance, service: aim.notice === 'hardware' ? 0 : service });
	if (!made) return derivation;
	if (aim.notice === 'interrupt') sayInterrupt(bench, aim.mode);
	if (readings) sayElapsed(bench, readings, made.tick);
	return derivation;
}

/** The tick's setting with its strip, figures and findings; undefined when there is none. */
export function makeTick(bench: JobBench, aim: TickAim | DividedAim, wish: TickWish): { period: Seconds; tick: Seconds } | undefined {
	const { derivation, core } = bench;
	const { kernel, timer } = derivation;
	const { mode } = aim;
	if (!timer!.modes.includes(mode)) {
		bench.fault({ code: 'mode-missing', mode, timer: timer!.name });
		return undefined;
	}
	const choice = mode === 'up' || mode === 'down' || mode === 'updown' ? counted(bench, mode, wish) : other(bench, mode, wish);
	if (!choice) return undefined;
	const seconds = wish.rate.inverse();
	const tick = Rational.int(choice.prescale).div(kernel!);
	const period = tick.mul(Rational.int(choice.ticks));
	const ppm = ppmError(period, seconds);
	derivation.run.interval = { ticks: choice.ticks, seconds: period, value: choice.value, late: choice.late };
	bench.figure('period', period, 's');
	bench.figure('rate', period.inverse(), 'Hz');
	bench.figure('error', ppm, 'ppm');
	bench.figure('drift', ppm.mul(DAY).div(Rational.int(1_000_000)), 's/day');
	bench.figure('tick', tick, 's');
	bench.formula('tick', { kernel: kernel!, prescale: Rational.int(choice.prescale), wish: seconds, ticks: Rational.int(choice.ticks) });
	const numbers = { ticks: Rational.int(choice.ticks), value: Rational.int(choice.value), late: Rational.int(choice.late) };
	bench.formula(updatesAPeriod(timer!, mode) === 2 ? 'updown-twice' : mode, { ...numbers, full: Rational.int(2 ** timer!.width) });
	if (core && wish.service > 0) sayLoad(bench, wish.service, period);
	return { period, tick };
}

function sayLoad(bench: JobBench, service: number, period: Seconds): void {
	const time = bench.time(service);
	const load = time.div(period);
	bench.figure('service', time, 's');
	bench.figure('load', load, '%');
	if (bench.derivation.problems.some(({ severity }) => severity === 'fault')) return;
	if (load.compare(Rational.one) >= 0) bench.fault({ code: 'service-over-period', load });
	else if (load.compare(Rational.ratio(1, 2)) > 0) bench.warn({ code: 'service-heavy', load });
}

function counted(bench: JobBench, mode: 'up' | 'down' | 'updown', { rate, tolerance }: TickWish): TickChoice | undefined {
	const { timer } = bench.derivation;
	// A tick is an update: a counter that can only update at both ends has two a period.
	const beats = updatesAPeriod(timer!, mode);
	const best = choosePeriod(bench, { mode, rule: timer!.rule, width: timer!.width }, rate, tolerance, Rational.ratio(1, beats));
	if (!best) return undefined;
	bench.derivation.strip = periodLinks(timer!, best);
	return { prescale: best.prescale, value: best.reload, ticks: best.ticks / beats, late: 0 };
}

/** The ways of counting without a reload: every prescale is tried, and the nearest is taken, a tie taking the smaller. */
function other(bench: JobBench, mode: CountingMode, wish: TickWish): TickChoice | undefined {
	const { derivation, around } = bench;
	const { timer, aim } = derivation;
	const register = REGISTER[mode];
	const prescale = around.owner ? around.owner.prescale : bench.heldPrescale();
	const value =
		register === undefined
			? undefined
			: bench.held(register, 0, register === 'bit' ? timer!.tap!.to : largest(timer!.width), register === 'bit' ? undefined : timer!.width);
	if (prescale === null || value === null) return undefined;
	const ratios = prescale === undefined ? likely(timer!, mode, derivation.kernel!.div(wish.rate).toNumber()) : [prescale];
	const held = prescale !== undefined || value !== undefined;
	const choices = ratios.flatMap((ratio) => choiceAt(bench, mode, ratio, wish, value) ?? []);
	const seconds = wish.rate.inverse();
	const offOf = (choice: TickChoice) =>
		Rational.int(choice.prescale * choice.ticks)
			.div(derivation.kernel!)
			.sub(seconds)
			.abs();
	let best: TickChoice | undefined;
	for (const choice of choices) if (!best || offOf(choice).compare(offOf(best)) < 0) best = choice;
	sayReach(bench, mode, wish, best, held);
	if (!best) return undefined;
	derivation.use = { aim, kind: mode === 'free' || mode === 'advance' ? 'free' : 'alone', prescale: best.prescale };
	if (around.owner) derivation.sharedWith = around.owner.aim;
	derivation.strip = [prescaleLink(timer!, best.prescale)];
	if (register === 'bit') derivation.strip.push({ name: register, value: best.value, holds: true });
	else if (register) derivation.strip.push(counterLink(timer!, register, best.value));
	derivation.table = choiceTable(choices, best, derivation.kernel!, seconds);
	derivation.charts = [candidateChart('error', derivation.table, 2, 3)];
	if (best.late > 0 && (mode === 'clear' || mode === 'preload')) {
		const better = timer!.modes.find((one): one is 'up' | 'advance' => one === 'up' || one === 'advance');
		bench.warn({ code: 'software-late', ticks: best.late, mode, ...(better && { better }) });
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
	bench: JobBench,
	mode: CountingMode,
	prescale: number,
	{ rate, service }: TickWish,
	held: number | undefined
): TickChoice | undefined {
	const { timer, kernel } = bench.derivation;
	const { width } = timer!;
	if (mode === 'tap') {
		const bits: [number, number] = held === undefined ? [timer!.tap!.from, timer!.tap!.to] : [held, held];
		const { bit } = nearestTap(kernel!, [prescale], bits, rate);
		return { prescale, value: bit, ticks: 2 ** (bit + 1), late: 0 };
	}
	const tickRate = kernel!.div(Rational.int(prescale));
	const software = mode === 'clear' || (mode === 'preload' && timer!.preload === 'software');
	// Software is late by whole ticks: what it does within a tick acts with the next.
	const late = software ? ceil(bench.time(service).mul(tickRate)) : 0;
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

function ceil(value: Rational): number {
	return Number(value.neg().floor() * -1n);
}

const REGISTER: Partial<Record<CountingMode, LinkName>> = { preload: 'preload', tap: 'bit', advance: 'advance', clear: 'compare' };

/** Says that a time is out of the timer's reach, or off. */
function sayReach(bench: JobBench, mode: CountingMode, { rate, tolerance }: TickWish, best: TickChoice | undefined, held: boolean): void {
	const { derivation, plan } = bench;
	const wish = rate.inverse();
	const real = best && Rational.int(best.prescale * best.ticks).div(derivation.kernel!);
	const ppm = real && ppmError(real, wish);
	if (ppm && tolerance && ppm.abs().compare(tolerance) <= 0) return;
	if (bench.around.owner && real && tolerance) {
		bench.fault({ code: 'reload-shared', other: bench.around.owner.aim.name, hz: real.inverse(), wish: rate });
		return;
	}
	if (held && real && tolerance) {
		bench.fault({
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
		bench.fault({ code: 'time-too-long', wish, longest, reach: reachOf(plan, derivation.timer!, wish, longest) });
	else if (wish.compare(shortest) < 0) bench.fault({ code: 'time-too-short', wish, shortest });
	else if (ppm && tolerance) bench.fault({ code: 'time-outside', ppm, tolerance, seconds: real, wish });
}

/** Shortest and longest interval that a way of counting without a reload makes at all. */
function span({ prescaler, width, tap }: TimerProfile, mode: CountingMode, kernel: Hertz): [Seconds, Seconds] {
	const { ratios } = ratioTable(prescaler);
	const at = (ratio: number, ticks: number) => Rational.int(ratio).mul(Rational.int(ticks)).div(kernel);
	const few = mode === 'free' ? 2 ** width : mode === 'tap' ? 2 ** (tap!.from + 1) : 1;
	const many = mode === 'tap' ? 2 ** (tap!.to + 1) : mode === 'advance' ? largest(width) : 2 ** width;
	return [at(ratios[0], few), at(ratios[ratios.length - 1], many)];
}

/** The nearest settings, one a prescale. */
function choiceTable(choices: readonly TickChoice[], best: TickChoice, kernel: Hertz, wish: Seconds): JobTable {
	const rows = choices.map((choice) => ({ choice, ppm: ppmError(Rational.int(choice.prescale * choice.ticks).div(kernel), wish) }));
	const nearest = [...rows].sort((a, b) => a.ppm.abs().compare(b.ppm.abs())).slice(0, MOST_ROWS);
	return {
		columns: [
			{ name: 'prescale', unit: '' },
			{ name: 'register', unit: '' },
			{ name: 'ticks', unit: '' },
			{ name: 'error', unit: 'ppm' }
		],
		rows: rows
			.filter((row) => nearest.includes(row))
			.map(({ choice, ppm }) => ({
				values: [Rational.int(choice.prescale), Rational.int(choice.value), Rational.int(choice.ticks), ppm],
				chosen: choice === best,
				take: { locks: { prescale: String(choice.prescale) } }
			}))
	};
}

/** An interrupt is asked for where the part has one for it. */
function sayInterrupt(bench: JobBench, mode: CountingMode): void {
	const { timer } = bench.derivation;
	const events = mode === 'advance' || mode === 'clear' ? timer!.channels.map(({ id }) => `match:${id}`) : ['update', 'overflow'];
	const { interrupts } = timer!;
	if (interrupts && !interrupts.some(({ on }) => events.some((event) => on.includes(event))))
		bench.warn({ code: 'no-interrupt', timer: timer!.name, event: events[0] ?? 'match' });
}

/** The time between two readings of the counter, which may have wrapped once between them. */
function sayElapsed(bench: JobBench, [from, to]: (number | undefined)[], tick: Seconds): void {
	const { width } = bench.derivation.timer!;
	if (from === undefined || to === undefined) return;
	const ticks = elapsedTicks(from, to, width);
	bench.figure('elapsed', tick.mul(Rational.int(ticks)), 's');
	bench.formula('elapsed', { from: Rational.int(from), to: Rational.int(to), full: Rational.int(2 ** width), ticks: Rational.int(ticks) });
	bench.figure('elapsed-most', tick.mul(Rational.int(2 ** width)), 's');
}
