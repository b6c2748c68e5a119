import { ppmError, Rational, type Hertz, type Seconds } from '../../exact/index.js';
import { nearestTap, ratioTable, topPeriods } from '../../solve/index.js';
import { largest, preloadFor, wholeTicks } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readRate, readTolerance, readWhole } from '../fields.js';
import type { TickAim } from './aims.js';
import { JobBench, type JobDerivation, type StripLink } from './job.js';
import { prescaleLink } from './period.js';

const DAY = Rational.int(86_400);

/** A setting that makes an even tick. `value` is the mode's own register, as in Interval. */
interface TickChoice {
	prescale: number;
	value: number;
	/** Ticks from event to event. */
	ticks: number;
	late: number;
}

/** An even tick in any way of counting (timers.md 3): settings, error, drift, and what serving it costs. */
export function deriveTick(plan: Plan, aim: TickAim, clocks: PlanClocks): JobDerivation {
	const bench = new JobBench(plan, aim, clocks);
	const { derivation, core } = bench;
	const rate = bench.take('every', readRate(aim.every));
	const tolerance = bench.take('tolerance', readTolerance(aim.tolerance, rate));
	const service = bench.take('service', readWhole(aim.service, 0));
	const { timer, kernel } = derivation;
	if (!timer || !kernel || !rate || service === undefined) return derivation;
	if (!timer.modes.includes(aim.mode)) {
		bench.say({ code: 'mode-missing', severity: 'fault', mode: aim.mode, timer: timer.name });
		return derivation;
	}
	const wish = rate.inverse();
	const choice = choose(aim, derivation, kernel, wish, core ? Rational.int(service).div(core) : Rational.zero);
	const [shortest, longest] = span(aim, derivation, kernel);
	if (wish.compare(longest) > 0 && !near(longest, wish, tolerance)) bench.say({ code: 'time-too-long', severity: 'fault', wish, longest });
	else if (wish.compare(shortest) < 0 && !near(shortest, wish, tolerance))
		bench.say({ code: 'time-too-short', severity: 'fault', wish, shortest });
	if (!choice) return derivation;

	const tick = Rational.int(choice.prescale).div(kernel);
	const period = tick.mul(Rational.int(choice.ticks));
	const ppm = ppmError(period, wish);
	derivation.strip = stripOf(aim, derivation, choice);
	const said = derivation.problems.length > 0;
	if (tolerance && !said && ppm.abs().compare(tolerance) > 0)
		bench.say({ code: 'time-outside', severity: 'fault', ppm, tolerance, seconds: period, wish });
	bench.figure('period', period, 's');
	bench.figure('rate', period.inverse(), 'Hz');
	bench.figure('error', ppm, 'ppm');
	bench.figure('drift', ppm.mul(DAY).div(Rational.int(1_000_000)), 's/day');
	bench.figure('tick', tick, 's');
	bench.formula('tick', { kernel, prescale: Rational.int(choice.prescale), wish, ticks: Rational.int(choice.ticks) });
	bench.formula(aim.mode, {
		ticks: Rational.int(choice.ticks),
		value: Rational.int(choice.value),
		late: Rational.int(choice.late),
		full: Rational.int(2 ** timer.width)
	});
	if (core && aim.notice !== 'hardware') {
		const time = Rational.int(service).div(core);
		const load = time.div(period);
		bench.figure('service', time, 's');
		bench.figure('load', load, '%');
		if (said) return derivation;
		if (load.compare(Rational.one) >= 0) bench.say({ code: 'service-over-period', severity: 'fault', load });
		else if (load.compare(Rational.ratio(1, 2)) > 0) bench.say({ code: 'service-heavy', severity: 'warning', load });
	}
	return derivation;
}

function near(reached: Seconds, wish: Seconds, tolerance: Rational | undefined): boolean {
	return tolerance !== undefined && ppmError(reached, wish).abs().compare(tolerance) <= 0;
}

/** Shortest and longest interval that the way of counting makes at all. */
function span({ mode }: TickAim, { timer }: JobDerivation, kernel: Hertz): [Seconds, Seconds] {
	const { ratios } = ratioTable(timer!.prescaler);
	const { width, rule, tap } = timer!;
	const top = largest(width);
	const at = (ratio: number, ticks: number) => Rational.int(ratio).mul(Rational.int(ticks)).div(kernel);
	const few =
		mode === 'free'
			? 2 ** width
			: mode === 'tap'
				? 2 ** (tap!.from + 1)
				: mode === 'updown' || ((mode === 'up' || mode === 'down') && rule === 'inclusive')
					? 2
					: 1;
	const many =
		mode === 'tap'
			? 2 ** (tap!.to + 1)
			: mode === 'advance' || ((mode === 'up' || mode === 'down') && rule === 'exclusive')
				? top
				: mode === 'updown'
					? 2 * top
					: 2 ** width;
	return [at(ratios[0], few), at(ratios[ratios.length - 1], many)];
}

function choose({ mode }: TickAim, { timer }: JobDerivation, kernel: Hertz, wish: Seconds, service: Seconds): TickChoice | undefined {
	const { prescaler, rule, width, tap } = timer!;
	const table = ratioTable(prescaler);
	if (mode === 'up' || mode === 'down' || mode === 'updown') {
		const best = topPeriods({ kernel, counting: { mode, rule, width }, wish: wish.inverse() }, table, { keep: 1 }).best[0];
		return best && { prescale: best.prescale, value: best.reload, ticks: best.ticks, late: 0 };
	}
	if (mode === 'tap') {
		const { prescale, bit } = nearestTap(kernel, table.ratios, [tap!.from, tap!.to], wish.inverse());
		return { prescale, value: bit, ticks: 2 ** (bit + 1), late: 0 };
	}
	const software = mode === 'clear' || (mode === 'preload' && timer!.preload === 'software');
	let best: (TickChoice & { off: Rational }) | undefined;
	for (const prescale of table.ratios) {
		const tickRate = kernel.div(Rational.int(prescale));
		// Software is late by whole ticks: what it does within a tick acts with the next.
		const late = software ? ceil(service.mul(tickRate)) : 0;
		const ticks = mode === 'free' ? 2 ** width : wholeTicks(wish, tickRate).ticks;
		const value = registerFor(mode, ticks, width, late);
		if (value === null) continue;
		const off = Rational.int(ticks).div(tickRate).sub(wish).abs();
		if (!best || off.compare(best.off) < 0) best = { prescale, value, ticks, late, off };
		// Coarser ticks cannot come nearer than an exact hit.
		if (best.off.sign === 0) break;
	}
	return best;
}

function registerFor(mode: TickAim['mode'], ticks: number, width: number, late: number): number | null {
	if (mode === 'free') return 0;
	if (mode === 'preload') return preloadFor(ticks, width, late);
	if (mode === 'advance') return ticks >= 1 && ticks <= largest(width) ? ticks : null;
	const compare = ticks - 1 - late;
	return compare >= 0 && compare <= largest(width) ? compare : null;
}

function ceil(value: Rational): number {
	return Number(value.neg().floor() * -1n);
}

const REGISTER: Record<TickAim['mode'], StripLink['name'] | undefined> = {
	up: 'reload',
	down: 'reload',
	updown: 'reload',
	free: undefined,
	preload: 'preload',
	tap: 'bit',
	advance: 'advance',
	clear: 'compare'
};

function stripOf({ mode }: TickAim, { timer }: JobDerivation, { prescale, value }: TickChoice): StripLink[] {
	const links = [prescaleLink(timer!, prescale)];
	const name = REGISTER[mode];
	if (name === 'bit') links.push({ name, value });
	else if (name) links.push({ name, value, register: { value, width: timer!.width } });
	return links;
}
