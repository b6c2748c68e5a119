import { MILLION, Rational } from '../../exact/index.js';
import { activeTicks, largest, periodGrid } from '../../timer/index.js';
import { figureOf } from './build.js';
import type { AimDerivation, LinkName, Quantified, Unit } from './derivation.js';
import type { PulseSetting } from './pulse.js';

/**
 * A formula turned around: a register as a function of the wish, ready to be worked out while the timer runs. The wish becomes a whole
 * number u of steps, `over`: factor / wish, rounded to the nearer rate, or `times`: factor x wish, rounded half up; the register is
 * slope x u + offset.
 */
export interface Turned {
	/** What is wished for: "rate", "duty", "delay", "width", "interval". */
	of: 'rate' | 'duty' | 'delay' | 'width' | 'interval';
	unit: Unit;
	register: LinkName;
	/** Bits of the register. */
	width: number;
	kind: 'over' | 'times';
	factor: Rational;
	slope: 1 | -1;
	offset: number;
	/** Steps that the register reaches, both included. */
	least: number;
	most: number;
	/** Wishes for which it holds, both included, and how far the result can be off in them at the most. */
	low: Rational;
	high: Rational;
	worst: Quantified;
	/** The end of the range is where the aim's tolerance ends. */
	tolerance?: Rational;
}

/** The register's value for a wish, and what that gives; undefined where the register cannot hold it. */
export function turnedAt(
	{ kind, factor, slope, offset, least, most }: Turned,
	wish: Rational
): { value: number; gives: Rational } | undefined {
	if (kind === 'over' ? wish.sign <= 0 : wish.sign < 0) return undefined;
	const steps = kind === 'over' ? nearerRate(factor.div(wish)) : factor.mul(wish).roundHalfUp();
	if (steps < BigInt(least) || steps > BigInt(most)) return undefined;
	const u = Rational.of(steps);
	return { value: slope * Number(steps) + offset, gives: kind === 'over' ? factor.div(u) : u.div(factor) };
}

/** Of the whole numbers around x the one whose inverse is nearer to 1 / x, the larger of two as near (timers.md 10). */
function nearerRate(x: Rational): bigint {
	const u = x.floor();
	const border = Rational.of(2n * u * (u + 1n), 2n * u + 1n);
	return x.compare(border) >= 0 ? u + 1n : u;
}

/** The reload of a wished rate at the prescale that is set. */
export function turnedRate({ tradeoff, wishes }: AimDerivation): Turned | undefined {
	const { now, counting, kernel, wish, tolerance } = tradeoff ?? {};
	const asked = wishes?.rate?.value;
	if (!now || !counting || !kernel || !wish || !asked) return undefined;
	const { step, uMin, uMax, offset } = periodGrid(counting);
	// Periods of the counter in one of what is wished for.
	const share = wish.div(asked);
	const factor = kernel.div(Rational.int(now.prescale * step)).div(share);
	// Between u and u + 1 the nearer rate is off by 1 / (2u + 1) at the most.
	const kept = tolerance && tolerance.sign > 0 ? MILLION.div(tolerance).sub(Rational.one).div(Rational.int(2)) : undefined;
	const first = kept ? Math.max(uMin, Number(-kept.neg().floor())) : uMin;
	if (first > uMax) return undefined;
	return {
		of: 'rate',
		unit: 'Hz',
		register: 'reload',
		width: counting.width,
		kind: 'over',
		factor,
		slope: 1,
		offset: -offset,
		least: uMin,
		most: uMax,
		low: factor.div(Rational.int(uMax)),
		high: factor.div(Rational.int(first)),
		worst: { value: MILLION.div(Rational.int(2 * first + 1)), unit: 'ppm' },
		...(first > uMin && tolerance && { tolerance })
	};
}

/** The compare of a wished duty on the period that is set. */
export function turnedDuty(pulse: PulseSetting): Turned | undefined {
	const { counting, reload, rule, ticks, step } = pulse;
	const top = largest(counting.width);
	if (reload < 4) return undefined;
	const active = (compare: number) => activeTicks(counting, reload, rule, compare)!;
	const slope = Math.sign(active(2) - active(1)) as 1 | -1;
	// The ends may be rules of their own: the straight part between them is meant.
	const straight = (compare: number) => active(compare) === active(1) + slope * step * (compare - 1);
	const first = straight(0) ? 0 : 1;
	const last = [reload + 1, reload, reload - 1].find((compare) => compare <= top && straight(compare));
	if (last === undefined) return undefined;
	const steps = [active(first), active(last)].sort((a, b) => a - b);
	// Only whole steps are reached; down counters begin with half of one where they cannot give none.
	const shift = steps[0] % step;
	if (shift !== 0) return undefined;
	const [least, most] = steps.map((one) => one / step);
	return {
		of: 'duty',
		unit: '%',
		register: 'compare',
		width: counting.width,
		kind: 'times',
		factor: Rational.ratio(ticks, step),
		slope,
		offset: first - (slope * active(first)) / step,
		least,
		most,
		low: Rational.ratio(steps[0], ticks),
		high: Rational.ratio(steps[1], ticks),
		worst: { value: Rational.ratio(step, 2 * ticks), unit: '%' }
	};
}

/** A register that holds a time in ticks of the prescale that is set, `slope` x ticks + `offset`. */
export function turnedTime(
	derivation: AimDerivation,
	of: 'delay' | 'width' | 'interval',
	register: LinkName,
	{ slope = 1, offset, least, most, width }: { slope?: 1 | -1; offset: number; least: number; most: number; width: number }
): Turned | undefined {
	const tick = figureOf(derivation, 'tick');
	if (!tick || most < least) return undefined;
	return {
		of,
		unit: 's',
		register,
		width,
		kind: 'times',
		factor: tick.inverse(),
		slope,
		offset,
		least,
		most,
		low: tick.mul(Rational.int(least)),
		high: tick.mul(Rational.int(most)),
		worst: { value: tick.div(Rational.int(2)), unit: 's' }
	};
}
