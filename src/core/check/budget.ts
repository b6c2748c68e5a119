import type { PlannedQuantity } from '../aims/index.js';
import { MILLION, Rational, type Ppm, type Seconds } from '../exact/index.js';
import type { Statistics } from '../measure/index.js';

/** Bounds of what may be added to a planned value, the lower first. */
export type Bounds = [Rational, Rational];

/** How far a measured value may lie from the value that it is held against, part by part (timers.md 11); in the quantity's own unit. */
export interface Budget {
	/** The aim's own tolerance, to both sides. */
	aim: Rational;
	/** The clock source's. */
	source: Bounds;
	/** What the plan's registers round the wish by, on its own side. */
	rounding: Bounds;
	/** What the step of the recording leaves open, to both sides. */
	recording: Rational;
	/** The instrument's stated error, to both sides. */
	instrument: Rational;
	/** All parts, added end by end. */
	sum: Bounds;
}

/** What an edge's time can be off by. `raster`: the step of the sampling, where edges between samples are interpolated. */
export interface RecordingStep {
	step: Seconds;
	raster?: Seconds;
}

/** Periods in which something was measured: how many, in how many stretches without a gap, and their mean. */
export interface Periods {
	count: number;
	stretches: number;
	mean: Seconds;
}

export type Stretching = 'rate' | 'time' | 'ratio';

const TRILLION = 10n ** 12n;

/** The recording's part of a mean period: both ends of each stretch are known to one step. */
function meanPeriodPart({ step }: RecordingStep, { count, stretches }: Periods): Seconds {
	return step.mul(Rational.ratio(stretches, count));
}

/** Of a frequency; undefined where the step is as long as the period. */
function frequencyPart(step: RecordingStep, periods: Periods): Rational | undefined {
	const d = meanPeriodPart(step, periods);
	const left = periods.mean.sub(d);
	return left.sign > 0 ? d.div(periods.mean.mul(left)) : undefined;
}

/**
 * Of a mean width, delay or gap: a step where all are the same number of them, for sampling may be in step with the signal;
 * otherwise as the sampling wanders through the signal's period. `periods`: what the values come in, undefined where there is none.
 */
function meanWidthPart({ step, raster = step }: RecordingStep, { count, min, max }: Statistics, periods: Periods | undefined): Seconds {
	const steps = (value: Rational) => value.div(step).roundHalfUp();
	if (!periods || steps(min) === steps(max)) return step;
	const root = Rational.of(3n * rootUp(count), 2n * TRILLION);
	let most = step.mul(root);
	const meets = periods.mean.div(raster);
	for (let q = 1; 9 * q * q < 4 * count; q++) {
		const whole = Rational.int(q);
		const p = meets.mul(whole).roundHalfUp();
		if (common(p, BigInt(q)) > 1n) continue;
		const wander = meets.sub(Rational.of(p, BigInt(q))).abs();
		const e = whole.mul(Rational.int(count).mul(wander).sub(Rational.int(periods.stretches)));
		const part = step.div(e.compare(Rational.ratio(1, 4)) <= 0 ? whole : whole.mul(e).mul(Rational.int(4)));
		if (part.compare(most) > 0) most = part;
	}
	return most.compare(step) < 0 ? most : step;
}

/** What a recording part hangs on: the values themselves, the periods they come in, and the mean period that a ratio is of. */
export interface PartOf {
	found: Statistics;
	periods: Periods | undefined;
	/** Of a ratio the widths that it is made of. */
	widths?: Statistics;
	/** Mean period that a ratio is of. */
	over?: Seconds;
}

export type Measured = 'period' | 'frequency' | 'high' | 'low' | 'duty' | 'delay' | 'phase' | 'gap';

/** The recording's part of a mean, or of the least or greatest of single values; undefined where nothing can be said. */
export function recordingPart(of: Measured, step: RecordingStep, part: PartOf, single = false): Rational | undefined {
	const { found, periods, widths, over } = part;
	switch (of) {
		case 'period':
			return single ? step.step : periods && meanPeriodPart(step, periods);
		case 'frequency':
			return periods && frequencyPart(step, periods);
		case 'duty':
			return widths && over && meanWidthPart(step, widths, periods).div(over);
		case 'phase':
			return widths && over && meanWidthPart(step, widths, periods).div(over).mul(Rational.int(360));
		default:
			return single ? step.step : meanWidthPart(step, found, periods);
	}
}

/** The smallest k with k^2 x count >= 10^24: 10^12 / sqrt(count), rounded up. */
function rootUp(count: number): bigint {
	let [low, high] = [0n, TRILLION];
	while (low < high) {
		const middle = (low + high) / 2n;
		if (middle * middle * BigInt(count) >= TRILLION * TRILLION) high = middle;
		else low = middle + 1n;
	}
	return low;
}

function common(a: bigint, b: bigint): bigint {
	return b === 0n ? a : common(b, a % b);
}

/** What is added to a value held against, from the parts that are known. `rounding`: planned - held against; `aim`: absolute. */
export function budgetOf(
	base: Rational,
	kind: Stretching,
	parts: { aim: Rational; source: [Ppm, Ppm]; planned: Rational; recording: Rational; instrument: Ppm }
): Budget {
	const stretches = kind !== 'ratio';
	const source = stretches ? sourceBounds(base, kind, parts.source) : [Rational.zero, Rational.zero];
	const instrument = stretches ? base.abs().mul(parts.instrument).div(MILLION) : Rational.zero;
	const rounding = ordered(Rational.zero, parts.planned.sub(base));
	const both = parts.aim.add(parts.recording).add(instrument);
	return {
		aim: parts.aim,
		source: source as Bounds,
		rounding,
		recording: parts.recording,
		instrument,
		sum: [source[0].add(rounding[0]).sub(both), source[1].add(rounding[1]).add(both)]
	};
}

/** How quantities stretch with the clock. */
const STRETCH: Record<PlannedQuantity['of'], Stretching> = {
	frequency: 'rate',
	high: 'time',
	duty: 'ratio',
	level: 'ratio',
	delay: 'time',
	phase: 'ratio',
	gap: 'time',
	interval: 'time',
	width: 'time'
};

/** What may be added to a value that an aim's quantity is held against: the planned one, or the wished one. */
export function plannedBudget(
	{ of, planned, ppm, absolute }: PlannedQuantity,
	against: Rational,
	parts: { source: [Ppm, Ppm]; recording: Rational; instrument: Ppm }
): Budget {
	const share = against.abs().mul(ppm ?? Rational.zero);
	return budgetOf(against, STRETCH[of], { ...parts, aim: absolute ?? share.div(MILLION), planned });
}

/** A source of lo .. hi ppm makes rates higher with hi, and times shorter. */
function sourceBounds(base: Rational, kind: 'rate' | 'time', [lo, hi]: [Ppm, Ppm]): Bounds {
	if (kind === 'rate') return ordered(base.mul(lo).div(MILLION), base.mul(hi).div(MILLION));
	const stretched = (ppm: Ppm) => base.div(Rational.one.add(ppm.div(MILLION))).sub(base);
	return ordered(stretched(hi), stretched(lo));
}

function ordered(a: Rational, b: Rational): Bounds {
	return a.compare(b) <= 0 ? [a, b] : [b, a];
}

/** Is a deviation inside the sum, ends included? `without`: a part that is left out, to both sides. */
export function inside(deviation: Rational, { sum: [low, high] }: Budget, without: Rational = Rational.zero): boolean {
	return deviation.compare(low.add(without)) >= 0 && deviation.compare(high.sub(without)) <= 0;
}

/** A measured value held against one value: the planned one, or the wish. */
export interface HeldValue {
	against: Rational;
	/** measured - against. */
	deviation: Rational;
	budget: Budget;
	/** Inside the sum, ends included. */
	within: boolean;
	/** Inside it also without the aim's own tolerance. */
	explained: boolean;
	/** Inside what aim and clock allow, even with all that recording and instrument leave open. */
	shown: boolean;
}

export function holdAgainst(measured: Rational, against: Rational, budget: Budget): HeldValue {
	const deviation = measured.sub(against);
	const open = budget.recording.add(budget.instrument).mul(Rational.int(2));
	return {
		against,
		deviation,
		budget,
		within: inside(deviation, budget),
		explained: inside(deviation, budget, budget.aim),
		shown: inside(deviation, budget, open)
	};
}
