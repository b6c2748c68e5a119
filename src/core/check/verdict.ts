import { MILLION, Rational, type Hertz, type Ppm, type Seconds } from '../exact/index.js';
import type { PulseMeasures, Statistics } from '../measure/index.js';
import { kindOf, type AimDerivation } from '../aims/index.js';
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
	/** Why it is undecided; `not-steady`: the line is planned, but as no steady pulse. */
	reason?: 'no-plan' | 'not-steady' | 'no-whole-period';
	quantities: QuantityVerdict[];
}

/** What a verdict is made from besides the plan. */
export interface Evidence {
	measured: PulseMeasures;
	/** Step of the recording's times. */
	resolution: Seconds;
	instrument: Ppm;
}

/**
 * Holds the measured rate and duty of a line against the derived aim; `role`: which of the aim's lines, its first where
 * that is left out. Undecided without settings, for a line that is no steady pulse, or without a whole period in the window.
 */
export function judge(
	derivation: AimDerivation,
	clocks: PlanClocks,
	{ measured, resolution, instrument }: Evidence,
	role?: string
): Verdict {
	const { tradeoff, timer } = derivation;
	const pulse = steadyPulse(derivation, role);
	if (!timer || !derivation.use) return { outcome: 'undecided', reason: 'no-plan', quantities: [] };
	if (!pulse) return { outcome: 'undecided', reason: 'not-steady', quantities: [] };
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
	const duty = weigh('duty', pulse.duty, measured.duty.mean, measured.duty.mean.sub(pulse.duty), {
		aim: Rational.ratio(1, 2 ** ((tradeoff?.bits ?? 0) + 1)),
		// Clock and time base stretch high and low alike.
		source: Rational.zero,
		resolution: stepShare,
		instrument: Rational.zero
	});
	const quantities = [rate, duty];
	return { outcome: quantities.every((q) => q.within) ? 'within' : 'outside', quantities };
}

/** Planned rate and share of high time of one of the aim's lines; undefined where it is no steady pulse. */
function steadyPulse(derivation: AimDerivation, role?: string): { hz: Hertz; duty: Rational } | undefined {
	const quantities = kindOf(derivation.aim).expect(derivation);
	const line = role ?? quantities[0]?.line;
	const find = (of: string) => quantities.find((one) => one.of === of && one.line === line)?.planned;
	const [hz, duty] = [find('frequency'), find('duty')];
	return hz && duty && { hz, duty };
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
