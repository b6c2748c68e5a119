import { Rational } from '../exact/index.js';
import { activeTicks, nearestActive, type OutputRule } from './duty.js';
import { periodTicks, type Counting } from './period.js';

/** Rows of compare values that shape a slow wave on a carrier (timers.md 9, 10). */
export type Shape = 'sine' | 'triangle' | 'third-harmonic' | 'trapezoid';

export const MOST_TABLE_ROWS = 4096;

export interface TableRow {
	/** Wished active share of the period. */
	wished: Rational;
	compare: number;
	/** Achieved active share. */
	duty: Rational;
}

const SCALE = 10 ** 12;

/** The shape at a share of its period, -1 to 1; a value that is no ratio of integers is rounded to 10^-12. */
export function shapeAt(shape: Shape, share: Rational): Rational {
	switch (shape) {
		case 'triangle':
			return triangle(share);
		case 'trapezoid':
			return clamp(triangle(share).mul(Rational.ratio(3, 2)));
		case 'sine':
			return rounded(Math.sin(2 * Math.PI * share.toNumber()));
		case 'third-harmonic': {
			const angle = 2 * Math.PI * share.toNumber();
			// The sum of both is largest at 60 degrees, where it is sqrt(3) / 2.
			return rounded((2 / Math.sqrt(3)) * (Math.sin(angle) + Math.sin(3 * angle) / 6));
		}
	}
}

/** Nearest compares of wished duties on one period, as nearestActive. null where the reload blocks the counter. */
export function tableRows(counting: Counting, reload: number, rule: OutputRule, wished: readonly Rational[]): TableRow[] | null {
	const ticks = periodTicks(counting, reload);
	if (ticks === null) return null;
	return wished.map((duty) => {
		const { compare } = nearestActive(counting, reload, rule, duty.mul(Rational.int(ticks)))!;
		return { wished: duty, compare, duty: Rational.ratio(activeTicks(counting, reload, rule, compare)!, ticks) };
	});
}

/** 0 at 0, 1 at a quarter, -1 at three quarters. */
function triangle(share: Rational): Rational {
	const four = share.mul(Rational.int(4));
	if (four.compare(Rational.one) <= 0) return four;
	return four.compare(Rational.int(3)) <= 0 ? Rational.int(2).sub(four) : four.sub(Rational.int(4));
}

function clamp(value: Rational): Rational {
	if (value.compare(Rational.one) > 0) return Rational.one;
	return value.compare(Rational.int(-1)) < 0 ? Rational.int(-1) : value;
}

function rounded(value: number): Rational {
	return Rational.of(BigInt(Math.round(value * SCALE)), BigInt(SCALE));
}
