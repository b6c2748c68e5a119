import { readInstrument, readRate } from '../aims/index.js';
import { Rational, readQuantity, type Quantity } from '../exact/index.js';
import { lastDigit, powerOfTen } from '../formats/index.js';
import type { Instrument } from '../plan/index.js';

/** A value as it was read off, in the base unit of what it is of, and what it can be off by, to both sides. */
export interface ReadValue {
	value: Rational;
	error: Rational;
}

/** Why a typed value makes no sense: what was wrong, or that it is of another dimension than the unit wants. */
export type ValueTrouble = 'no-number' | 'unknown-unit' | 'ambiguous' | 'wrong-dimension' | 'not-positive';

/** The base units of what is read: hertz, seconds, a share of 1, degrees, or a bare number. */
export type ValueUnit = 'Hz' | 's' | '%' | 'deg' | '';

const DIMENSIONS: Record<ValueUnit, readonly Quantity['dimension'][]> = {
	Hz: ['frequency', 'time'],
	s: ['time', 'frequency'],
	'%': ['ratio'],
	deg: ['angle'],
	'': ['ticks', 'counts']
};

/**
 * A value typed with its unit, or with that of its column. A period stands for its rate and a rate for its time; what it can be off by is
 * half of its last digit, unless something else is typed.
 */
export function readValueAs(unit: ValueUnit, text: string, column: string, error: string): ReadValue | ValueTrouble {
	const half = Rational.ratio(1, 2);
	const found = inUnit(unit, text, column);
	if (typeof found === 'string') return found;
	const { value, digit, inverse } = found;
	if (inverse && value.sign <= 0) return 'not-positive';
	let off = digit.mul(half);
	if (error.trim() !== '') {
		const typed = inUnit(unit, error, column);
		const share = readQuantity(error);
		if (share.ok && share.quantity.dimension === 'ratio' && unit !== '%') off = value.abs().mul(share.quantity.value);
		else if (typeof typed === 'string') return typed;
		else off = typed.value.abs();
	}
	if (!inverse) return { value, error: off };
	// A time that is off by so much makes its rate off by more towards its own end.
	const turned = value.inverse();
	const shortest = value.sub(off);
	return { value: turned, error: shortest.sign > 0 ? shortest.inverse().sub(turned) : turned };
}

function inUnit(unit: ValueUnit, text: string, column: string): { value: Rational; digit: Rational; inverse: boolean } | ValueTrouble {
	const bare = /^[-+]?[\d.,_ ]*\d(?:[eE][-+]?\d+)?$/.test(text.trim());
	const whole = bare && column.trim() !== '' ? `${text.trim()} ${column.trim()}` : text;
	const read = readQuantity(whole);
	if (!read.ok) return read.reason === 'unknown-unit' || read.reason === 'ambiguous' ? read.reason : 'no-number';
	const { dimension, value } = read.quantity;
	if (dimension !== 'number' && !DIMENSIONS[unit].includes(dimension)) return 'wrong-dimension';
	const turns = dimension === 'angle' ? Rational.int(360) : Rational.one;
	const digit = digitOf(whole);
	return {
		value: value.mul(turns),
		digit: digit.mul(turns),
		inverse: dimension !== 'number' && dimension !== DIMENSIONS[unit][0] && unit !== ''
	};
}

/** What one of the last written digit stands for; nothing of a number in another base, which is exact. */
function digitOf(text: string): Rational {
	const found = /^([-+]?[\d.,_ ]*\d(?:[eE][-+]?\d+)?)\s*(\D.*)?$/.exec(text.trim());
	if (!found || /^[-+]?0[xXbB]/.test(text.trim())) return Rational.zero;
	const one = readQuantity(`1 ${found[2] ?? ''}`);
	const decimals = found[1].replaceAll(/[_ ]/g, '');
	return one.ok ? powerOfTen(lastDigit(decimals)).mul(one.quantity.value) : Rational.zero;
}

/** What is known of an instrument, read: its time base's error, and the rates in which it can be believed. */
export interface ReadInstrument {
	ppm: Rational;
	lowest?: Rational;
	highest?: Rational;
}

export function readInstrumentOf(instrument: Pick<Instrument, 'time' | 'lowest' | 'highest'> | undefined): ReadInstrument {
	const time = instrument && readInstrument(instrument.time);
	const rate = (text = '') => {
		const read = readRate(text);
		return read.ok ? read.value : undefined;
	};
	const [lowest, highest] = [rate(instrument?.lowest), rate(instrument?.highest)];
	return { ppm: time?.ok ? time.value : Rational.zero, ...(lowest && { lowest }), ...(highest && { highest }) };
}

/** Is a signal's rate where the instrument can be believed? What is not stated is not doubted. */
export function believed({ lowest, highest }: ReadInstrument, rate: Rational | undefined): boolean {
	return !rate || ((!lowest || rate.compare(lowest) >= 0) && (!highest || rate.compare(highest) <= 0));
}
