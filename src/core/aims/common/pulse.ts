import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { PeriodCandidate } from '../../solve/index.js';
import { activeRange, activeTicks, largest, nearestActive, plainRule, type SteadyPwm } from '../../timer/index.js';
import type { DerivationDraft } from './draft.js';
import { wantedTicks, type DutyWish } from './fields.js';
import { counterLink } from './period.js';
import type { Pulse } from './places.js';

/** The settings of an output's pulse, and what they give, exactly. */
export interface PulseSetting extends Pulse {
	prescale: number;
	reload: number;
	/** Period in ticks. */
	ticks: number;
	compare: number;
	activeTicks: number;
	tickRate: Hertz;
	hz: Hertz;
	period: Seconds;
	duty: Rational;
	/** Wished active ticks before rounding. */
	wantedTicks: Rational;
	/** Duty against the wish, a plain difference. */
	dutyError: Rational;
	/** Fewest and most active ticks that a compare of the counter's width reaches. */
	leastActive: number;
	mostActive: number;
	/** The fewest ticks by which the active time can change. */
	step: number;
	/** The compare that the duty asks for, whatever is held. */
	wishedCompare: number;
	/** Polarity turns the pin round: it is low while the output is high. */
	activeLow: boolean;
}

/** The compare of a duty on a chosen period, or a held one, with all that follows from it. */
export function pulseSetting(
	pulse: Pulse,
	kernel: Hertz,
	{ prescale, reload, ticks, hz }: PeriodCandidate,
	duty: DutyWish,
	{ held, activeLow = false }: { held?: number | undefined; activeLow?: boolean } = {}
): PulseSetting {
	const { counting, rule } = pulse;
	const tickRate = kernel.div(Rational.int(prescale));
	const wanted = wantedTicks(duty, tickRate, ticks);
	const wished = nearestActive(counting, reload, rule, wanted)!;
	const compare = held ?? wished.compare;
	const active = activeTicks(counting, reload, rule, compare)!;
	const range = activeRange(counting, reload, rule)!;
	return {
		...pulse,
		prescale,
		reload,
		ticks,
		compare,
		activeTicks: active,
		tickRate,
		hz,
		period: hz.inverse(),
		duty: Rational.ratio(active, ticks),
		wantedTicks: wanted,
		dutyError: Rational.int(active).sub(wanted).div(Rational.int(ticks)),
		leastActive: range.least,
		mostActive: range.most,
		step: counting.mode === 'updown' ? 2 : 1,
		wishedCompare: wished.compare,
		activeLow
	};
}

/** The wave at the pin. */
export function waveOf({ counting, reload, compare, rule, activeLow }: PulseSetting): SteadyPwm {
	return { counting, reload, compare, output: rule, inverted: activeLow };
}

/** Is an output active while its counter waits at the value that it starts with? */
export function activeAtRest({ rule, counting: { mode }, reload, compare, initial }: PulseSetting): boolean {
	const n = mode === 'down' ? reload : 0;
	const below = mode === 'down' ? n <= compare : n < compare;
	if (rule === 'below' || rule === 'above') return below === (rule === 'below');
	return (initial ?? (plainRule(rule) === rule ? 0 : 1)) === 1;
}

/** The pulse of a duty on a chosen period, around what is held; adds its link, and says what is off. undefined where a held value cannot be. */
export function choosePulse(draft: DerivationDraft, pulse: Pulse, best: PeriodCandidate, duty: DutyWish): PulseSetting | undefined {
	const { derivation } = draft;
	const { timer, kernel } = derivation;
	const whole = Rational.int(best.ticks);
	const wanted = wantedTicks(duty, kernel!.div(Rational.int(best.prescale)), best.ticks);
	if (wanted.sign < 0 || wanted.compare(whole) > 0) draft.fault({ code: 'duty-outside', wanted: wanted.div(whole) });
	const held = draft.held('compare', 0, largest(timer!.width), timer!.width);
	if (held === null) return undefined;
	const set = pulseSetting(pulse, kernel!, best, duty, { held });
	derivation.pulse = set;
	draft.wish('duty', { value: wanted.div(whole) });
	const { compare, wishedCompare } = set;
	if (set.activeTicks !== activeTicks(pulse.counting, best.reload, pulse.rule, wishedCompare))
		draft.warn({ code: 'held-compare-off', held: compare, compare: wishedCompare, duty: set.duty, wished: wanted.div(whole) });
	derivation.strip.push(counterLink(timer!, 'compare', compare));
	draft.figure('duty', set.duty, '%');
	return set;
}
