import { Rational, type Hertz } from '../../exact/index.js';
import { firstRatio, ratioTable } from '../../solve/index.js';
import { largest } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readTime, readTolerance } from '../fields.js';
import type { WidthAim } from './aims.js';
import { candidateChart, prescaleTable } from './chart.js';
import { sayFilter } from './filter.js';
import { JobBench, type JobDerivation, type Surroundings } from './job.js';
import { prescaleLink } from './period.js';

const RANGE = [
	{ name: 'finest', unit: 's' },
	{ name: 'step-short', unit: '%' },
	{ name: 'longest', unit: 's' }
];

/** A pulse's width by capture of one edge, then the other (timers.md 8): prescale, the window in ticks, and what software can serve. */
export function deriveWidth(plan: Plan, aim: WidthAim, clocks: PlanClocks, around: Surroundings): JobDerivation {
	const bench = new JobBench(plan, aim, clocks, around);
	const { derivation } = bench;
	const shortest = bench.take('shortest', readTime(aim.shortest));
	const longest = bench.take('longest', readTime(aim.longest));
	const wanted = bench.take('step', readTolerance(aim.step, undefined))?.div(Rational.int(1_000_000));
	const service = bench.cycles('service', aim.service);
	const each = aim.each.trim() === '' ? undefined : bench.take('each', readTime(aim.each));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	if (!channel?.capture || !channel.capture.edges.some((edge) => edge !== 'rise')) {
		bench.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
		return derivation;
	}
	if (!shortest || !longest || !wanted || service === undefined) return derivation;
	if (shortest.compare(longest) > 0) {
		bench.fault({ code: 'range-reversed' });
		return derivation;
	}
	const prescale = around.owner ? around.owner.prescale : bench.heldPrescale();
	if (prescale === null) return derivation;
	if (around.owner) derivation.sharedWith = around.owner.aim;
	const { ratios } = ratioTable(timer.prescaler);
	const counted = aim.overflows === 'counted';
	const span = (ratio: number) =>
		Rational.int(ratio)
			.mul(Rational.int(largest(timer.width)))
			.div(kernel);
	const chosen =
		prescale ?? (counted ? ratios[0] : (firstRatio(ratios, (ratio) => span(ratio).compare(longest) >= 0) ?? ratios[ratios.length - 1]));
	const tickRate: Hertz = kernel.div(Rational.int(chosen));
	const step = shortest.mul(tickRate).inverse();
	derivation.use = { aim, kind: 'free', prescale: chosen };
	derivation.strip = [prescaleLink(timer, chosen)];
	bench.figure('tick', tickRate.inverse(), 's');
	bench.figure('step-short', step, '%');
	if (!counted) bench.figure('longest', span(chosen), 's');
	// The first tick that lies wholly within the window, and the last.
	const [from, to] = [-shortest.mul(tickRate).neg().floor(), longest.mul(tickRate).floor()];
	bench.figure('accept-from', Rational.of(from), 'ticks');
	bench.figure('accept-to', Rational.of(to), 'ticks');
	bench.formula('width', { tickRate, shortest, longest, from: Rational.of(from), to: Rational.of(to) });
	if (each) {
		bench.figure('scale-step', tickRate.mul(each).inverse(), aim.unit);
		bench.figure('scale-from', shortest.div(each), aim.unit);
		bench.figure('scale-to', longest.div(each), aim.unit);
	}
	derivation.table = prescaleTable(ratios, chosen, RANGE, (ratio) => {
		const tick = Rational.int(ratio).div(kernel);
		return [tick, tick.div(shortest), counted ? null : span(ratio)];
	});
	if (!counted) derivation.charts = [{ ...candidateChart('range', derivation.table, 1, 3), wanted: longest.toNumber() }];
	if (!counted && span(chosen).compare(longest) < 0) bench.fault({ code: 'width-wraps', longest: span(chosen), wish: longest });
	if (step.compare(wanted) > 0) bench.fault({ code: 'width-coarse', step, wanted });
	sayService(bench, channel.capture.edges.includes('both'), service, shortest);
	sayFilter(bench, aim, channel, shortest);
	return derivation;
}

/** Where the channel cannot capture both edges by itself, software must turn it round before the second comes. */
function sayService(bench: JobBench, both: boolean, service: number, shortest: Rational): void {
	const least = both ? bench.derivation.kernel!.inverse() : bench.time(service);
	bench.figure('shortest-served', least, 's');
	if (least.compare(shortest) > 0) bench.fault({ code: 'width-service', shortest: least, wish: shortest });
}
