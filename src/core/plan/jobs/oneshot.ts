import { ppmError, Rational, type Hertz } from '../../exact/index.js';
import { ratioTable } from '../../solve/index.js';
import { largest, oneShotFor, type OneShot } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readTime, readTolerance } from '../fields.js';
import type { OneShotAim } from './aims.js';
import { JobBench, type JobDerivation } from './job.js';
import { prescaleLink } from './period.js';

/** A pulse after a trigger (timers.md 6): the finest prescale that holds delay and width, and the ranges of the others. */
export function deriveOneShot(plan: Plan, aim: OneShotAim, clocks: PlanClocks): JobDerivation {
	const bench = new JobBench(plan, aim, clocks);
	const { derivation } = bench;
	const delay = bench.take('delay', readTime(aim.delay));
	const width = bench.take('width', readTime(aim.width));
	const tolerance = bench.take('tolerance', readTolerance(aim.tolerance, undefined));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const input = timer.inputs?.find((i) => i.id === aim.input);
	if (!timer.oneShot || !timer.modes.includes('up'))
		bench.say({ code: 'cannot-job', severity: 'fault', timer: timer.name, job: 'oneshot' });
	else if (!channel?.outputs.some((o) => o.model === 'level' && o.sense === 'above'))
		bench.say({ code: 'place-missing', severity: 'fault', what: aim.channel, timer: timer.name });
	else if (!input?.actions.includes('start')) bench.say({ code: 'place-missing', severity: 'fault', what: aim.input, timer: timer.name });
	else if (!timer.oneShot.retrigger.includes(aim.retrigger))
		bench.say({ code: 'place-missing', severity: 'fault', what: aim.retrigger, timer: timer.name });
	if (derivation.problems.length > 0 || !delay || !width) return derivation;

	const { ratios } = ratioTable(timer.prescaler);
	const chosen = finest(ratios, kernel, (rate) => oneShotFor(delay, width, rate, timer.width));
	derivation.table = rangeTable(ratios, kernel, timer.width, chosen?.prescale);
	if (!chosen) {
		const longest = Rational.int(ratios[ratios.length - 1])
			.mul(Rational.int(2 ** timer.width))
			.div(kernel);
		const wish = delay.add(width);
		if (wish.compare(longest) > 0) bench.say({ code: 'time-too-long', severity: 'fault', wish, longest });
		else
			bench.say({
				code: 'time-too-short',
				severity: 'fault',
				wish: delay.compare(width) < 0 ? delay : width,
				shortest: Rational.int(ratios[0]).div(kernel)
			});
		return derivation;
	}
	const { prescale, made } = chosen;
	const tick = Rational.int(prescale).div(kernel);
	const latency = Rational.int(input!.latency).div(kernel);
	const realDelay = tick.mul(Rational.int(made.delayTicks));
	const realWidth = tick.mul(Rational.int(made.pulseTicks));
	derivation.strip = [
		prescaleLink(timer, prescale),
		{ name: 'compare', value: made.compare, register: { value: made.compare, width: timer.width } },
		{ name: 'reload', value: made.reload, register: { value: made.reload, width: timer.width } }
	];
	bench.figure('delay', realDelay, 's');
	bench.figure('latency', latency, 's');
	bench.figure('width', realWidth, 's');
	bench.figure('width-error', ppmError(realWidth, width), 'ppm');
	bench.figure('tick', tick, 's');
	bench.formula('oneshot', {
		delay,
		width,
		kernel,
		prescale: Rational.int(prescale),
		compare: Rational.int(made.compare),
		reload: Rational.int(made.reload)
	});
	const ppm = ppmError(realWidth, width);
	if (tolerance && ppm.abs().compare(tolerance) > 0)
		bench.say({ code: 'time-outside', severity: 'fault', ppm, tolerance, seconds: realWidth, wish: width });
	return derivation;
}

/** The smallest prescale at which the pulse can be made. */
function finest(
	ratios: Float64Array,
	kernel: Hertz,
	make: (tickRate: Hertz) => OneShot | null
): { prescale: number; made: OneShot } | undefined {
	for (const prescale of ratios) {
		const made = make(kernel.div(Rational.int(prescale)));
		if (made) return { prescale, made };
	}
	return undefined;
}

/** Finest step and longest interval for every prescale, of a long list those that double, and the chosen one. */
export function rangeTable(
	ratios: Float64Array,
	kernel: Hertz,
	width: number,
	chosen: number | undefined
): NonNullable<JobDerivation['table']> {
	const shown = [...ratios].filter(
		(ratio, i) => ratios.length <= 12 || ratio === chosen || i === ratios.length - 1 || Number.isInteger(Math.log2(ratio))
	);
	return {
		columns: [
			{ name: 'prescale', unit: '' },
			{ name: 'finest', unit: 's' },
			{ name: 'longest', unit: 's' }
		],
		rows: shown.map((ratio) => {
			const step = Rational.int(ratio).div(kernel);
			return { values: [Rational.int(ratio), step, step.mul(Rational.int(largest(width) + 1))], chosen: ratio === chosen };
		})
	};
}
