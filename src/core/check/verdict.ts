import { MILLION, Rational, type Ppm, type Seconds } from '../exact/index.js';
import type { PulseMeasures, Statistics } from '../measure/index.js';
import type { AimDerivation } from '../aims/index.js';
import type { PlanClocks } from '../plan/index.js';

/** How far a measured mean may lie from the plan, part by part (timers.md 11); each in the quantity's own terms. */
export interface Budget {
	/** The aim's own tolerance. */
	aim: Rational;
	/** The clock source's tolerance. */
	source: Rational;
	/** One step of the recording, halved for a mean of many. */
	resolution: Rational;
	/** The instrument's stated error. */
	instrument: Rational;
	sum: Rational;
}

export interface QuantityVerdict {
	/** rate: deviation and budget in ppm of the planned rate. duty: in plain differences of duty. */
	quantity: 'rate' | 'duty';
	planned: Rational;
	measured: Rational;
	/** measured - planned; for rate as ppm of planned. */
	deviation: Rational;
	budget: Budget;
	within: boolean;
	/** Within what clock, recording and instrument explain, without the aim's own tolerance. */
	explained: boolean;
}

export interface Verdict {
	outcome: 'within' | 'outside' | 'undecided';
	/** Why it is undecided. */
	reason?: 'no-plan' | 'no-whole-period';
	quantities: QuantityVerdict[];
}

/** What a verdict is made from besides the plan. */
export interface Evidence {
	measured: PulseMeasures;
	/** Step of the recording's times. */
	resolution: Seconds;
	instrument: Ppm;
}

/** Holds measured rate and duty against the derived aim. Undecided without settings, or without a whole period in the window. */
export function judge(derivation: AimDerivation, clocks: PlanClocks, { measured, resolution, instrument }: Evidence): Verdict {
	const { pulse, tradeoff, timer } = derivation;
	if (!pulse || !timer) return { outcome: 'undecided', reason: 'no-plan', quantities: [] };
	if (!measured.frequency || !measured.duty) return { outcome: 'undecided', reason: 'no-whole-period', quantities: [] };
	const [lo, hi] = clocks.ppm(timer.kernel) ?? [Rational.zero, Rational.zero];
	const stepShare = resolutionShare(measured.frequency, resolution);
	const deviation = measured.frequency.mean.sub(pulse.hz).div(pulse.hz).mul(MILLION);
	const source = larger(lo.abs(), hi.abs());
	const rate = weigh('rate', pulse.hz, measured.frequency.mean, deviation, {
		aim: tradeoff?.tolerance ?? Rational.zero,
		source,
		resolution: stepShare.mul(MILLION),
		instrument
	});
	const planned = pulse.activeLow ? Rational.one.sub(pulse.duty) : pulse.duty;
	const duty = weigh('duty', planned, measured.duty.mean, measured.duty.mean.sub(planned), {
		aim: Rational.ratio(1, 2 ** ((tradeoff?.bits ?? 0) + 1)),
		// Clock and time base stretch high and low alike.
		source: Rational.zero,
		resolution: stepShare,
		instrument: Rational.zero
	});
	const quantities = [rate, duty];
	return { outcome: quantities.every((q) => q.within) ? 'within' : 'outside', quantities };
}

/** One step as a share of the measured period, halved for a mean of many. */
function resolutionShare(frequency: Statistics, resolution: Seconds): Rational {
	const share = resolution.mul(frequency.mean);
	return frequency.count > 1 ? share.div(Rational.int(2)) : share;
}

function weigh(
	quantity: 'rate' | 'duty',
	planned: Rational,
	measured: Rational,
	deviation: Rational,
	parts: Omit<Budget, 'sum'>
): QuantityVerdict {
	const others = parts.source.add(parts.resolution).add(parts.instrument);
	const sum = others.add(parts.aim);
	const size = deviation.abs();
	return {
		quantity,
		planned,
		measured,
		deviation,
		budget: { ...parts, sum },
		within: size.compare(sum) <= 0,
		explained: size.compare(others) <= 0
	};
}

function larger(a: Rational, b: Rational): Rational {
	return a.compare(b) >= 0 ? a : b;
}
