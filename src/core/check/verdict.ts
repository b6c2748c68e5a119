import { Rational, type Ppm, type Seconds } from '../exact/index.js';
import type { PulseMeasures } from '../measure/index.js';
import { kindOf, type AimDerivation, type PlannedQuantity } from '../aims/index.js';
import type { PlanClocks } from '../plan/index.js';
import { holdAgainst, plannedBudget, recordingPart, type Budget, type HeldValue, type RecordingStep } from './budget.js';

export type Outcome = 'within' | 'outside' | 'undecided';

export interface Held extends HeldValue {
	/** How long the recording would have to be to show it; left out where no length would do, or it is shown. */
	needs?: Seconds;
}

export interface QuantityVerdict {
	of: 'frequency' | 'high' | 'low' | 'duty' | 'interval';
	measured: Rational;
	/** How many values the measured one is the mean of. */
	count: number;
	/** Does the pin do what the registers say? */
	asSet: Held;
	/** Does it do what was wished? Left out where nothing was. */
	asWished?: Held;
}

export interface Verdict {
	/** The worse of both answers. */
	outcome: Outcome;
	/** Does the pin do what the registers say: no more than clock, recording and instrument explain? */
	asSet: Outcome;
	/** Does it do what was wished, with all that the aim allows? */
	asWished: Outcome;
	/** Why it is undecided or outside without a number: the line never moves though it is planned to, or moves though it is not. */
	reason?: 'no-plan' | 'not-steady' | 'no-whole-period' | 'never-moves' | 'moves' | 'other-level';
	quantities: QuantityVerdict[];
}

/** What a verdict is made from besides the plan. */
export interface Evidence {
	measured: PulseMeasures;
	/** What was looked at, in seconds. */
	window: Seconds;
	step: RecordingStep;
	instrument: Ppm;
}

/**
 * Holds what was measured of a line against the derived aim (timers.md 11); `role`: which of the aim's lines, its first
 * where that is left out. Undecided without settings, for a line that is no steady pulse, or without a whole period in the window; a
 * line that stands still for longer than it is planned to is outside.
 */
export function judge(derivation: AimDerivation, clocks: PlanClocks, evidence: Evidence, role?: string): Verdict {
	if (!derivation.timer || !derivation.use) return undecided('no-plan');
	const all = kindOf(derivation.aim).expect(derivation);
	const line = role ?? all[0]?.line;
	const planned = all.filter((one) => one.line === line && one.against === undefined);
	const level = planned.find(({ of }) => of === 'level')?.planned;
	if (level) return judgeLevel(evidence.measured, level.sign === 0 ? 0 : 1);
	const rate = planned.find(({ of }) => of === 'frequency')?.planned ?? planned.find(({ of }) => of === 'interval')?.planned.inverse();
	if (!rate) return undecided('not-steady');
	if (evidence.measured.edges === 0)
		return evidence.window.mul(rate).compare(TWO) >= 0 ? same('outside', 'never-moves') : undecided('no-whole-period');
	const ppm = clocks.ppm(derivation.timer.kernel) ?? [Rational.zero, Rational.zero];
	const quantities = planned.flatMap((one) => judgeQuantity(one, evidence, ppm) ?? []);
	if (quantities.length === 0) return undecided('no-whole-period');
	const worst = (held: (q: QuantityVerdict) => boolean): Outcome => (quantities.every(held) ? 'within' : 'outside');
	const asSet = worst((q) => q.asSet.explained);
	const asWished = worst((q) => (q.asWished ?? q.asSet).within);
	return { outcome: asSet === 'outside' || asWished === 'outside' ? 'outside' : 'within', asSet, asWished, quantities };
}

const TWO = Rational.int(2);

function undecided(reason: NonNullable<Verdict['reason']>): Verdict {
	return same('undecided', reason);
}

function same(outcome: Outcome, reason?: NonNullable<Verdict['reason']>): Verdict {
	return { outcome, asSet: outcome, asWished: outcome, ...(reason && { reason }), quantities: [] };
}

/** A line that is planned to stand still. */
function judgeLevel({ edges, level }: PulseMeasures, planned: 0 | 1): Verdict {
	if (edges > 0) return same('outside', 'moves');
	if (level === 2) return undecided('no-whole-period');
	return level === planned ? same('within') : same('outside', 'other-level');
}

function judgeQuantity(planned: PlannedQuantity, evidence: Evidence, source: [Ppm, Ppm]): QuantityVerdict | undefined {
	const { of, wish } = planned;
	if (of !== 'frequency' && of !== 'high' && of !== 'duty' && of !== 'interval') return undefined;
	const measured = of === 'interval' ? betweenEvents(evidence) : evidence.measured;
	const [found, { period, high }] = [of === 'interval' ? measured.period : measured[of], measured];
	if (!found || !period || !high) return undefined;
	const periods = { count: period.count, stretches: measured.stretches, mean: period.mean };
	const part = { found, periods, widths: high, over: period.mean };
	const recording = recordingPart(of === 'interval' ? 'period' : of, evidence.step, part);
	if (!recording) return undefined;
	const hold = (against: Rational): Held => {
		const held = holdAgainst(found.mean, against, plannedBudget(planned, against, { source, recording, instrument: evidence.instrument }));
		const needs = held.within && !held.shown ? neededTime(held.deviation, held.budget, { of, measured, step: evidence.step }) : undefined;
		return { ...held, ...(needs && { needs }) };
	};
	return { of, measured: found.mean, count: found.count, asSet: hold(planned.planned), ...(wish && { asWished: hold(wish) }) };
}

/** How far a width may be from half of its period and count as half: of the step, and of the period. */
const [HALF_STEPS, HALF_SHARE] = [Rational.int(2), Rational.ratio(1, 1000)];

/** A pin that is high for half of the time turns at every event; any other rises at each. */
export function turnsAtEvents({ period, high }: PulseMeasures, step: Rational): boolean {
	if (!period || !high) return false;
	const off = high.mean.sub(period.mean.div(Rational.int(2))).abs();
	return off.compare(step.mul(HALF_STEPS)) <= 0 || off.compare(period.mean.mul(HALF_SHARE)) <= 0;
}

/** Measures whose periods are from event to event. */
function betweenEvents({ measured, step }: Evidence): PulseMeasures {
	const { period } = measured;
	if (!period || !turnsAtEvents(measured, step.step)) return measured;
	const half = (time: Rational) => time.div(Rational.int(2));
	const { count, mean, min, max, deviation } = period;
	return {
		...measured,
		period: { ...period, count: 2 * count, mean: half(mean), min: half(min), max: half(max), deviation: deviation / 2 }
	};
}

/** How long a recording would have to be for its part to fit beside the deviation inside what aim and clock allow; undefined where none would do. */
function neededTime(
	deviation: Rational,
	{ sum: [low, high], recording, instrument }: Budget,
	{ of, measured, step }: { of: 'frequency' | 'high' | 'duty' | 'interval'; measured: PulseMeasures; step: RecordingStep }
): Seconds | undefined {
	const own = recording.add(instrument);
	const [below, above] = [deviation.sub(low.add(own)), high.sub(own).sub(deviation)];
	const room = (below.compare(above) < 0 ? below : above).sub(instrument);
	const { mean } = measured.period!;
	if (room.sign <= 0) return undefined;
	// A mean period is known to S D / N; a mean width to 1.5 D / sqrt N, while the sampling does not keep step with it.
	const inTime =
		of === 'frequency'
			? room
					.mul(mean)
					.mul(mean)
					.div(Rational.one.add(room.mul(mean)))
			: of === 'duty'
				? room.mul(mean)
				: room;
	const ratio =
		of === 'frequency' || of === 'interval'
			? step.step.mul(Rational.int(measured.stretches)).div(inTime)
			: squared(step.step.mul(Rational.ratio(3, 2)).div(inTime));
	return mean.mul(Rational.of(-ratio.neg().floor() + 1n));
}

function squared(value: Rational): Rational {
	return value.mul(value);
}
