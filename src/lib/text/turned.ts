import type { Turned } from '../../core/aims/index.js';
import { Rational } from '../../core/exact/index.js';
import { linkName } from './names.js';
import { decimal, hertz, percent, ppm, seconds } from './numbers.js';

const WISHES: Record<Turned['of'], { name: string; letter: string }> = {
	rate: { name: 'rate', letter: 'f' },
	duty: { name: 'duty', letter: 'd' },
	delay: { name: 'delay', letter: 't' },
	width: { name: 'width', letter: 't' },
	interval: { name: 'interval', letter: 't' }
};

/** The wish that a formula turned around is of. */
export function turnedWish({ of }: Turned): string {
	return WISHES[of].name;
}

/** "reload = 72 MHz ÷ f, to the nearer rate, − 1". */
export function turnedText({ of, register, kind, factor, slope, offset, unit }: Turned): string {
	const { letter } = WISHES[of];
	const scale = unit === '%' ? decimal(factor) : hertz(factor);
	const steps = kind === 'over' ? `${scale} ÷ ${letter}, to the nearer rate` : `${letter} × ${scale}, rounded half up`;
	if (slope === -1) return `${linkName(register)} = ${offset} − (${steps})`;
	return `${linkName(register)} = ${steps}${offset === 0 ? '' : `, ${offset < 0 ? '−' : '+'} ${Math.abs(offset)}`}`;
}

/** A value in the unit of the wish. */
export function turnedValue({ unit }: Turned, value: Rational): string {
	if (unit === '%') return percent(value);
	return unit === 'Hz' ? hertz(value) : seconds(value);
}

/** For which wishes it holds, and how far the result can be off. */
export function turnedRange(turned: Turned): string {
	const { low, high, worst, tolerance } = turned;
	const most = worst.unit === 'ppm' ? ppm(worst.value) : turnedValue(turned, worst.value);
	const why = tolerance ? `, beyond which ± ${ppm(tolerance)} cannot be kept everywhere` : '';
	return `for ${turnedValue(turned, low)} to ${turnedValue(turned, high)}${why}; off by ${most} at the most`;
}
