import { compareError, errorSize, REACH, targetOf, type PeriodWish, type RatioTable } from './candidates.js';

/** One best reload for every prescale, as columns of equal length, in ascending order of the prescale. */
export interface PeriodFront {
	prescale: Float64Array;
	reload: Float64Array;
	/** Period in ticks. */
	ticks: Float64Array;
	/** Signed error in ppm, rounded to a double: for the chart. */
	ppm: Float64Array;
}

/** For every prescale the reload nearest to the wish, a tie taking the larger T. Throws RangeError as targetOf does. */
export function periodFront(wish: PeriodWish, table: RatioTable): PeriodFront {
	const target = targetOf(wish);
	const { ratios, inverses } = table;
	const count = ratios.length;
	const front: PeriodFront = {
		prescale: ratios.slice(),
		reload: new Float64Array(count),
		ticks: new Float64Array(count),
		ppm: new Float64Array(count)
	};
	const middle = target.whole + 0.5;
	for (let i = 0; i < count; i++) {
		const p = ratios[i];
		// The quotient of an integer + 1/2 is never within rounding of a whole number for products below 2^52.
		const below = Math.floor(middle * inverses[i]);
		let u = below < target.uMin ? target.uMin : below > target.uMax ? target.uMax : below;
		let size = errorSize(target, p * u);
		if (u === below && u < target.uMax && p * (u + 1) <= REACH) {
			const upper = errorSize(target, p * (u + 1));
			if (compareError(target, p * (u + 1), p * u, upper, size) <= 0) {
				u++;
				size = upper;
			}
		}
		front.reload[i] = u - target.offset;
		front.ticks[i] = u * target.step;
		front.ppm[i] = (p * u > target.whole ? -size : size) * 1e6;
	}
	return front;
}
