import { ppmError, Rational, type Hertz, type Ppm } from '../exact/index.js';
import { ratiosOf, type Prescaler } from '../part/index.js';
import { periodGrid, updateRate, type Counting } from '../timer/index.js';

/** What a wished update rate can be made from (timers.md 10). */
export interface PeriodWish {
	kernel: Hertz;
	counting: Counting;
	wish: Hertz;
}

export interface PeriodCandidate {
	prescale: number;
	reload: number;
	/** Period in ticks. */
	ticks: number;
	hz: Hertz;
	/** (hz - wish) / wish. */
	ppm: Ppm;
}

/** Every prescale ratio of a timer with its reciprocal, made once and used for many wishes. */
export interface RatioTable {
	ratios: Float64Array;
	inverses: Float64Array;
}

/** Tables by their ratios, which a prescaler keeps: the largest take longer to make than to search. */
const known = new WeakMap<Float64Array, RatioTable>();

export function ratioTable(prescaler: Prescaler): RatioTable {
	const ratios = ratiosOf(prescaler);
	const table = known.get(ratios) ?? tableOf(ratios);
	known.set(ratios, table);
	return table;
}

/** `ratios` distinct and ascending, each an integer of at least 1. */
export function tableOf(ratios: Float64Array): RatioTable {
	const inverses = new Float64Array(ratios.length);
	for (let i = 0; i < ratios.length; i++) inverses[i] = 1 / ratios[i];
	return { ratios, inverses };
}

/**
 * The wish as a target for whole numbers: the product N = P x u that hits it is f_k / (step x wish) = whole + frac,
 * exactly num/den. `low`, `high` bound u; T = step x u.
 */
export interface Target {
	num: bigint;
	den: bigint;
	/** Floor of the target; a target beyond 2^52 is held there, where no product can reach it. */
	whole: number;
	/** Rest in 0..1, rounded once. */
	frac: number;
	exact: boolean;
	step: 1 | 2;
	offset: 0 | 1;
	uMin: number;
	uMax: number;
}

/** Products up to here are exact as plain numbers, sums and differences included; none above is looked at. */
export const REACH = 2 ** 52;

/** Which reloads count. */
export interface Bounds {
	/** Only this one. */
	reload?: number;
	/** Only those that make a period of at least so many ticks. */
	leastTicks?: number;
}

/** Throws RangeError when kernel or wish is not positive. */
export function targetOf({ kernel, counting, wish }: PeriodWish, { reload, leastTicks = 0 }: Bounds = {}): Target {
	if (kernel.sign <= 0 || wish.sign <= 0) throw new RangeError('kernel rate and wish must be above zero');
	const { step, uMin, uMax, offset } = periodGrid(counting);
	const { num, den } = kernel.div(wish).div(Rational.int(step));
	const floor = num / den;
	const beyond = floor >= BigInt(REACH);
	const only = reload === undefined ? undefined : reload + offset;
	return {
		num,
		den,
		whole: beyond ? REACH : Number(floor),
		frac: beyond ? 0 : Rational.of(num % den, den).toNumber(),
		exact: den === 1n && !beyond,
		step,
		offset,
		uMin: only ?? Math.max(uMin, Math.ceil(leastTicks / step)),
		uMax: only ?? uMax
	};
}

/** |1/N - 1/x| x x, the size of the relative rate error of product N, to a few ulps. */
export function errorSize(target: Target, product: number): number {
	const gap = product > target.whole ? product - target.whole - target.frac : target.whole - product + target.frac;
	return gap / product;
}

/**
 * Exact order of two products by |error|: negative when a is nearer. Floats decide only where they differ by
 * more than their own error can be; the rest is decided in bigint.
 */
export function compareError(target: Target, a: number, b: number, sizeA: number, sizeB: number): number {
	const d = sizeA - sizeB;
	if (Math.abs(d) > 1e-14 * (sizeA + sizeB) && target.whole < REACH) return d;
	if (a === b) return 0;
	const left = exactGap(target, a) * BigInt(b);
	const right = exactGap(target, b) * BigInt(a);
	return left < right ? -1 : left > right ? 1 : 0;
}

function exactGap({ num, den }: Target, product: number): bigint {
	const gap = num - den * BigInt(product);
	return gap < 0n ? -gap : gap;
}

/** A pair as a candidate with its exact rate and error. */
export function toCandidate(wish: PeriodWish, target: Target, prescale: number, u: number): PeriodCandidate {
	const ticks = target.step * u;
	const hz = updateRate(wish.kernel, prescale, ticks);
	return { prescale, reload: u - target.offset, ticks, hz, ppm: ppmError(hz, wish.wish) };
}
