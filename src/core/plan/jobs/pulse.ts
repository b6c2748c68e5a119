import { Rational, type Hertz } from '../../exact/index.js';
import type { PeriodCandidate } from '../../solve/index.js';
import { activeTicks, largest, nearestActive } from '../../timer/index.js';
import { wantedTicks, type DutyWish } from '../fields.js';
import type { Pulse } from '../places.js';
import type { JobBench } from './job.js';
import { counterLink } from './period.js';

/** The compare of a duty on a chosen period, around what is held; adds its link, and says what is off. undefined where a held value cannot be. */
export function choosePulse(
	bench: JobBench,
	pulse: Pulse,
	best: PeriodCandidate,
	duty: DutyWish
): { active: number; tickRate: Hertz } | undefined {
	const { derivation } = bench;
	const { timer, kernel } = derivation;
	const tickRate = kernel!.div(Rational.int(best.prescale));
	const whole = Rational.int(best.ticks);
	const wanted = wantedTicks(duty, tickRate, best.ticks);
	if (wanted.sign < 0 || wanted.compare(whole) > 0) bench.fault({ code: 'duty-outside', wanted: wanted.div(whole) });
	const held = bench.held('compare', 0, largest(timer!.width), timer!.width);
	if (held === null) return undefined;
	const chosen = nearestActive(pulse.counting, best.reload, pulse.rule, wanted)!;
	const compare = held ?? chosen.compare;
	const active = activeTicks(pulse.counting, best.reload, pulse.rule, compare)!;
	if (active !== chosen.activeTicks)
		bench.warn({
			code: 'held-compare-off',
			held: compare,
			compare: chosen.compare,
			duty: Rational.ratio(active, best.ticks),
			wished: wanted.div(whole)
		});
	derivation.strip.push(counterLink(timer!, 'compare', compare));
	bench.figure('duty', Rational.ratio(active, best.ticks), '%');
	return { active, tickRate };
}
