import { Rational, type Hertz } from '../../exact/index.js';
import { ratioTable } from '../../solve/index.js';
import { captureStep, highestForStep, lowestCaptured } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readRate, readTolerance, readWhole } from '../fields.js';
import type { CaptureAim } from './aims.js';
import { JobBench, type JobDerivation, type StepCurve } from './job.js';
import { prescaleLink } from './period.js';

const POINTS = 60;
/** Where a larger count of edges is left again, of where it was taken up. */
const HYSTERESIS = Rational.ratio(7, 8);

/**
 * A frequency by the time between captured edges (timers.md 8): the smallest prescale and every k-th edge at which the
 * whole range can be read, or the ranges between which k is switched, and what the processor can serve.
 */
export function deriveCapture(plan: Plan, aim: CaptureAim, clocks: PlanClocks): JobDerivation {
	const bench = new JobBench(plan, aim, clocks);
	const { derivation, core } = bench;
	const lowest = bench.take('lowest', readRate(aim.lowest));
	const highest = bench.take('highest', readRate(aim.highest));
	const wanted = bench.take('step', readTolerance(aim.step, highest))?.div(Rational.int(1_000_000));
	const service = bench.take('service', readWhole(aim.service, 0));
	const asked = aim.every === 'auto' ? undefined : bench.take('every', readWhole(aim.every, 1));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const capture = timer.channels.find((c) => c.id === aim.channel)?.capture;
	if (!capture) bench.say({ code: 'place-missing', severity: 'fault', what: aim.channel, timer: timer.name });
	else if (asked !== undefined && !capture.every.includes(asked))
		bench.say({ code: 'place-missing', severity: 'fault', what: `every ${asked}`, timer: timer.name });
	if (!capture || derivation.problems.length > 0 || !lowest || !highest || !wanted || service === undefined) return derivation;
	if (lowest.compare(highest) > 0) {
		bench.say({ code: 'range-reversed', severity: 'fault' });
		return derivation;
	}

	const counted = aim.overflows === 'counted';
	const { ratios } = ratioTable(timer.prescaler);
	const offered = asked === undefined ? [...capture.every].sort((a, b) => a - b) : [asked];
	// Every edge tells most often; more edges a reading are taken only where they are needed for the step.
	const tickAt = (prescale: number) => kernel.div(Rational.int(prescale));
	const reaches = (every: number, prescale: number) =>
		counted || lowestCaptured(kernel.div(Rational.int(prescale)), timer.width, every).compare(lowest) <= 0;
	const keeps = (every: number, prescale: number) => captureStep(highest, kernel.div(Rational.int(prescale)), every).compare(wanted) <= 0;
	const options = offered.map((every) => ({
		every,
		prescale: [...ratios].find((ratio) => reaches(every, ratio)) ?? ratios[ratios.length - 1]
	}));
	const chosen =
		options.find(({ every, prescale }) => reaches(every, prescale) && keeps(every, prescale)) ??
		options.find(({ every, prescale }) => reaches(every, prescale)) ??
		options[0];
	const bands =
		keeps(chosen.every, chosen.prescale) || counted
			? undefined
			: switchOver(offered, tickAt(chosen.prescale), timer.width, highest, wanted);
	const tickRate = tickAt(chosen.prescale);
	const every = Rational.int(chosen.every);
	derivation.strip = [prescaleLink(timer, chosen.prescale), { name: 'every', value: chosen.every }];
	const least = lowestCaptured(tickRate, timer.width, chosen.every);
	// At the top of the range the last band's count of edges is in use.
	const step = captureStep(highest, tickRate, bands ? Math.max(...bands) : chosen.every);
	bench.figure('lowest', least, 'Hz');
	bench.figure('step-low', captureStep(lowest, tickRate, chosen.every), '%');
	bench.figure('step-high', step, '%');
	bench.figure('reading-low', every.div(lowest), 's');
	bench.figure('tick', tickRate.inverse(), 's');
	bench.formula('capture', { every, tickRate, lowest: least, step, highest });
	if (!counted && least.compare(lowest) > 0) bench.say({ code: 'capture-wraps', severity: 'fault', lowest: least, wish: lowest });
	if (step.compare(wanted) > 0) bench.say({ code: 'capture-coarse', severity: 'fault', step, wanted, hz: highest });
	if (core && service > 0) {
		const most = every.mul(core).div(Rational.int(service));
		bench.figure('served', most, 'Hz');
		if (most.compare(highest) < 0) bench.say({ code: 'capture-service', severity: 'fault', most, wish: highest });
	}
	const rows = bands ? offered.map((k) => ({ every: k, prescale: chosen.prescale })) : options;
	derivation.table = {
		columns: [
			{ name: 'every', unit: '' },
			{ name: 'prescale', unit: '' },
			{ name: 'lowest', unit: 'Hz' },
			{ name: 'highest', unit: 'Hz' },
			bands ? { name: 'down-at', unit: 'Hz' } : { name: 'step-high', unit: '%' }
		],
		rows: rows.map(({ every: k, prescale }, i) => {
			const rate = kernel.div(Rational.int(prescale));
			const below = i > 0 ? highestForStep(wanted, rate, rows[i - 1].every).mul(HYSTERESIS) : null;
			const last = bands ? below : captureStep(highest, rate, k);
			const values = [
				Rational.int(k),
				Rational.int(prescale),
				counted ? null : lowestCaptured(rate, timer.width, k),
				highestForStep(wanted, rate, k),
				last
			];
			return { values, chosen: bands ? bands.includes(k) : k === chosen.every };
		})
	};
	// All on the chosen prescale: what more edges a reading win and lose.
	derivation.curves = offered.map((k) => curve(k, tickRate, counted ? undefined : timer.width, lowest, highest));
	derivation.range = [lowest.toNumber(), highest.toNumber()];
	return derivation;
}

/**
 * The counts of edges that together cover the range on one prescale: each is left upwards where it ceases to keep the
 * step, and the next is left downwards a little below that. undefined when even the largest is too coarse at the top.
 */
function switchOver(offered: readonly number[], tickRate: Hertz, width: number, highest: Hertz, wanted: Rational): number[] | undefined {
	const enough = offered.findIndex((every) => highestForStep(wanted, tickRate, every).compare(highest) >= 0);
	const bands = offered.slice(0, enough + 1);
	const meet = bands.every((every, i) => {
		if (i === 0) return true;
		return lowestCaptured(tickRate, width, every).compare(highestForStep(wanted, tickRate, bands[i - 1]).mul(HYSTERESIS)) <= 0;
	});
	return enough >= 0 && meet ? bands : undefined;
}

/** Relative step over a decade more than the range, on even steps of the logarithm; nothing below the lowest that fits the counter. */
function curve(every: number, tickRate: Hertz, width: number | undefined, lowest: Hertz, highest: Hertz): StepCurve {
	const [from, to] = [Math.log10(lowest.toNumber()) - 0.5, Math.log10(highest.toNumber()) + 0.5];
	const least = width === undefined ? 0 : lowestCaptured(tickRate, width, every).toNumber();
	const scale = every * tickRate.toNumber();
	const points = Array.from({ length: POINTS + 1 }, (_, i) => 10 ** (from + (i * (to - from)) / POINTS));
	return { every, points: points.filter((hz) => hz >= least).map((hz) => ({ hz, step: hz / scale })) };
}
