import { Rational, type Seconds } from '../../exact/index.js';
import { FractionSum, IntegerSum, type Statistics } from '../statistics.js';
import type { Series } from './series.js';

/** A series in figures: seconds, shares, degrees, hertz or numbers. Exact but for the deviation, and for a mean that says it is rounded. */
export interface SeriesSummary extends Statistics {
	median: Rational;
	/** When the least and the greatest value begin, in units. */
	minAt: number;
	maxAt: number;
}

/** null for a series without a value. */
export function summarise(series: Series, unit: Seconds): SeriesSummary | null {
	const { at, parts, wholes, kind } = series;
	if (parts.length === 0) return null;
	const values = valuesOf(series);
	let [least, most] = [0, 0];
	for (let i = 1; i < values.length; i++) {
		if (values[i] < values[least]) least = i;
		if (values[i] > values[most]) most = i;
	}
	if (kind === 'level' || kind === 'slew') return roundedSummary(series, scaleOf(kind, unit), least, most);
	const sorted = values.slice().sort();
	const half = sorted.length >> 1;
	const middle = sorted.length % 2 === 1 ? [sorted[half]] : [sorted[half - 1], sorted[half]];
	const exact = middle.map((value) => {
		const i = values.indexOf(value);
		return exactValue(parts[i], wholes?.[i], kind, unit);
	});
	const median = exact.length === 1 ? exact[0] : exact[0].add(exact[1]).div(Rational.int(2));
	return { ...statisticsOf(series, unit), median, minAt: at[least], maxAt: at[most] };
}

/** Of values that are no whole numbers: everything is rounded to what a double tells. */
function roundedSummary({ at, parts }: Series, scale: number, least: number, most: number): SeriesSummary {
	const exact = (value: number) => Rational.parse((value * scale).toPrecision(12));
	const mean = parts.reduce((sum, value) => sum + value, 0) / parts.length;
	const variance = parts.reduce((sum, value) => sum + (value - mean) ** 2, 0) / parts.length;
	const sorted = parts.slice().sort();
	const half = sorted.length >> 1;
	return {
		count: parts.length,
		mean: exact(mean),
		median: exact(sorted.length % 2 === 1 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2),
		min: exact(parts[least]),
		max: exact(parts[most]),
		minAt: at[least],
		maxAt: at[most],
		deviation: Math.sqrt(variance) * scale,
		rounded: true
	};
}

function statisticsOf({ parts, wholes, kind }: Series, unit: Seconds): Statistics {
	if (wholes) {
		const sum = new FractionSum();
		sum.addAll(parts, wholes);
		return sum.result(kind === 'degrees' ? Rational.int(360) : Rational.one)!;
	}
	const sum = new IntegerSum();
	for (const part of parts) sum.add(part);
	const found = sum.result(kind === 'count' ? Rational.one : unit)!;
	if (kind !== 'rate') return found;
	const mean = found.mean.inverse();
	const deviation = (found.deviation / found.mean.toNumber()) * mean.toNumber();
	return { ...found, mean, min: found.max.inverse(), max: found.min.inverse(), deviation };
}

function exactValue(part: number, whole: number | undefined, kind: Series['kind'], unit: Seconds): Rational {
	if (whole !== undefined) return Rational.ratio(part, whole).mul(Rational.int(kind === 'degrees' ? 360 : 1));
	if (kind === 'count') return Rational.int(part);
	const time = Rational.int(part).mul(unit);
	return kind === 'rate' ? time.inverse() : time;
}

/** Values as doubles for ordering and drawing: rates and times per unit, degrees and shares as they are. */
export function valuesOf({ parts, wholes, kind }: Series): Float64Array {
	if (kind === 'rate') return parts.map((part) => 1 / part);
	if (!wholes) return parts.slice();
	return parts.map((part, i) => (part / wholes[i]) * (kind === 'degrees' ? 360 : 1));
}

/** A value of a series in plain doubles of its unit is this many times what valuesOf gives. */
export function scaleOf(kind: Series['kind'], unit: Seconds): number {
	return kind === 'time' ? unit.toNumber() : kind === 'rate' || kind === 'slew' ? 1 / unit.toNumber() : 1;
}

/** How often values come, in even bins between the least and the greatest, and where the first of each bin begins. */
export interface SeriesBins {
	from: number;
	to: number;
	counts: number[];
	firstAt: number[];
}

export function binsOf(series: Series, bins: number): SeriesBins {
	const values = valuesOf(series);
	let [from, to] = [Infinity, -Infinity];
	for (const value of values) {
		if (value < from) from = value;
		if (value > to) to = value;
	}
	const counts = new Array<number>(bins).fill(0);
	const firstAt = new Array<number>(bins).fill(NaN);
	const width = (to - from) / bins;
	values.forEach((value, i) => {
		const bin = width > 0 ? Math.min(bins - 1, Math.floor((value - from) / width)) : 0;
		if (counts[bin]++ === 0) firstAt[bin] = series.at[i];
	});
	return { from, to, counts, firstAt };
}

/** Values over time, in at most so many stretches: of each the least and the greatest, where they lie. */
export function trendOf(series: Series, most: number): { at: number; value: number }[] {
	const values = valuesOf(series);
	const stride = Math.max(1, Math.ceil((2 * values.length) / most));
	const points: { at: number; value: number }[] = [];
	for (let from = 0; from < values.length; from += stride) {
		let [least, greatest] = [from, from];
		for (let i = from + 1; i < Math.min(values.length, from + stride); i++) {
			if (values[i] < values[least]) least = i;
			if (values[i] > values[greatest]) greatest = i;
		}
		for (const i of least === greatest ? [least] : least < greatest ? [least, greatest] : [greatest, least])
			points.push({ at: series.at[i], value: values[i] });
	}
	return points;
}
