import { Rational } from '../exact/index.js';
import type { Multiples } from './words.js';

/** A factor as a profile writes it. */
export function readFactor(value: number | string): Rational {
	return typeof value === 'number' ? Rational.int(value) : Rational.parse(value);
}

/** Is `value` among a node's factors? A range has both its ends; with fraction bits b also m + k/2^b. */
export function factorAllowed(by: Multiples, value: Rational): boolean {
	if (Array.isArray(by)) return by.some((one) => readFactor(one).equals(value));
	const scaled = value.mul(fractionSteps(by));
	const whole = Number(value.floor());
	return scaled.isInteger && whole >= by.from && whole <= by.to;
}

/** How many factors there are. */
export function factorCount(by: Multiples): number {
	return Array.isArray(by) ? by.length : (by.to - by.from + 1) * 2 ** (by.fractionBits ?? 0);
}

/** The i-th factor of 0..factorCount-1: a list in its own order, a range ascending. */
export function factorAt(by: Multiples, i: number): Rational {
	if (Array.isArray(by)) return readFactor(by[i]);
	const steps = 2 ** (by.fractionBits ?? 0);
	return Rational.int(by.from).add(Rational.ratio(i, steps));
}

/** The allowed factor nearest to a wished one, a tie taking the larger. */
export function nearestFactor(by: Multiples, wished: Rational): Rational {
	const near = Array.isArray(by) ? by.map(readFactor) : aroundInRange(by, wished);
	return near.reduce((best, one) => {
		const order = one.sub(wished).abs().compare(best.sub(wished).abs());
		return order < 0 || (order === 0 && one.compare(best) > 0) ? one : best;
	});
}

/** The next allowed factor above (way 1) or below (way -1), or the same at the end. */
export function stepFactor(by: Multiples, value: Rational, way: 1 | -1): Rational {
	if (!Array.isArray(by)) {
		const next = value.add(fractionSteps(by).inverse().mul(Rational.int(way)));
		return factorAllowed(by, next) ? next : value;
	}
	const beyond = by.map(readFactor).filter((one) => one.compare(value) * way > 0);
	return beyond.reduce((best, one) => (best.equals(value) || one.compare(best) * way < 0 ? one : best), value);
}

function fractionSteps(by: { fractionBits?: number | undefined }): Rational {
	return Rational.int(2 ** (by.fractionBits ?? 0));
}

function aroundInRange(by: { from: number; to: number; fractionBits?: number | undefined }, wished: Rational): Rational[] {
	const steps = fractionSteps(by);
	const last = factorCount(by) - 1;
	const at = wished.sub(Rational.int(by.from)).mul(steps).floor();
	const clamp = (i: bigint) => (i < 0n ? 0 : i > BigInt(last) ? last : Number(i));
	return [clamp(at), clamp(at + 1n)].map((i) => factorAt(by as Multiples, i));
}
