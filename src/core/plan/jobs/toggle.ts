import { Rational } from '../../exact/index.js';
import type { ChannelProfile, CountingMode } from '../../part/index.js';
import { largest } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readRate, readTolerance } from '../fields.js';
import type { ToggleAim } from './aims.js';
import { JobBench, type JobDerivation, type Surroundings } from './job.js';
import { choosePeriod, counterLink, periodLinks } from './period.js';

/** A pin that toggles once a period (timers.md 5): half the event rate, high for half of the time. */
export function deriveToggle(plan: Plan, aim: ToggleAim, clocks: PlanClocks, around: Surroundings): JobDerivation {
	const bench = new JobBench(plan, aim, clocks, around);
	const { derivation } = bench;
	const rate = bench.take('rate', readRate(aim.rate));
	const tolerance = bench.take('tolerance', readTolerance(aim.tolerance, rate));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const mode = timer.modes.find((one) => (one === 'up' || one === 'down') && channel && toggles(channel, one)) as 'up' | 'down' | undefined;
	if (!channel) bench.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
	else if (!mode) bench.fault({ code: 'cannot-job', timer: timer.name, job: 'toggle' });
	if (!mode || !rate) return derivation;
	const best = choosePeriod(bench, { mode, rule: timer.rule, width: timer.width }, rate, tolerance, Rational.int(2));
	const held = bench.held('compare', 0, best ? Math.min(largest(timer.width), best.reload) : largest(timer.width), timer.width);
	if (!best || held === null) return derivation;
	const hz = best.hz.div(Rational.int(2));
	// Anywhere within the period will do; the last value held keeps the first edge a whole period off.
	const last = timer.rule === 'inclusive' || best.reload === 0 ? best.reload : best.reload - 1;
	derivation.strip = [...periodLinks(timer, best), counterLink(timer, 'compare', held ?? (mode === 'up' ? last : 0))];
	bench.figure('rate', hz, 'Hz');
	bench.figure('error', best.ppm, 'ppm');
	bench.figure('half', best.hz.inverse(), 's');
	bench.figure('period', hz.inverse(), 's');
	bench.formula('toggle', { kernel, prescale: Rational.int(best.prescale), ticks: Rational.int(best.ticks), hz });
	return derivation;
}

/** Can an output of the channel toggle once a period in this way of counting? */
export function toggles(channel: ChannelProfile, mode: CountingMode): boolean {
	return channel.outputs.some(
		(output) =>
			output.model === 'action' && (mode === 'down' ? (output.matchDown ?? output.top) : (output.matchUp ?? output.zero)) === 'toggle'
	);
}
