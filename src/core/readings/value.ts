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

/** What may be typed for each: quantities of its own, and one whose inverse it is. */
const DIMENSIONS: Record<ValueUnit, { own: readonly Dimension[]; inverse?: Dimension }> = {
	Hz: { own: ['frequency'], inverse: 'time' },
	s: { own: ['time'], inverse: 'frequency' },
	'%': { own: ['ratio'] },
	deg: { own: ['angle'] },
	'': { own: ['ticks', 'counts'] }
};
type Dimension = Quantity['dimension'];

/**
 * A value typed with its unit, or with that of its column. A period stands for its rate and a rate for its time. What it can be off by is
 * half of its last digit, unless something else is typed: a share of it, a quantity either way round, or a number in the value's own unit.
 */
export function readValueAs(unit: ValueUnit, text: string, column: string, error: string): ReadValue | ValueTrouble {
	const found = inUnit(unit, text, column);
	if (typeof found === 'string') return found;
	const { value, inverse } = found;
	const off = error.trim() === '' ? { value: found.digit.mul(Rational.ratio(1, 2)), inverse } : errorOf(unit, found, error);
	if (typeof off === 'string') return off;
	if (!inverse && !off.inverse) return { value, error: off.value };
	if (value.sign <= 0) return 'not-positive';
	const turned = value.inverse();
	if (!off.inverse) return { value: turned, error: off.value };
	return inverse ? { value: turned, error: turnedError(value, off.value) } : { value, error: turnedError(turned, off.value) };
}

/** How far the inverse of a positive value can be off: more towards its own end. */
function turnedError(value: Rational, off: Rational): Rational {
	const least = value.sub(off);
	return least.sign > 0 ? least.inverse().sub(value.inverse()) : value.inverse();
}

interface InUnit {
	value: Rational;
	/** What one of its last digit stands for. */
	digit: Rational;
	/** The unit that it was read with, as typed. */
	typed: string;
	/** It is the inverse of what is wanted. */
	inverse: boolean;
}

function errorOf(unit: ValueUnit, of: InUnit, error: string): Pick<InUnit, 'value' | 'inverse'> | ValueTrouble {
	const share = readQuantity(error);
	if (unit !== '%' && share.ok && share.quantity.dimension === 'ratio')
		return { value: of.value.abs().mul(share.quantity.value), inverse: of.inverse };
	const read = inUnit(unit, error, of.typed);
	return typeof read === 'string' ? read : { value: read.value.abs(), inverse: read.inverse };
}

function inUnit(unit: ValueUnit, text: string, column: string): InUnit | ValueTrouble {
	const typed = unitOf(text);
	const whole = typed === '' ? `${text.trim()} ${column.trim()}` : text;
	const read = readQuantity(whole.trim());
	if (!read.ok) return read.reason === 'unknown-unit' || read.reason === 'ambiguous' ? read.reason : 'no-number';
	const { dimension, value } = read.quantity;
	const { own, inverse } = DIMENSIONS[unit];
	if (dimension !== 'number' && dimension !== inverse && !own.includes(dimension)) return 'wrong-dimension';
	const turns = dimension === 'angle' ? Rational.int(360) : Rational.one;
	return { value: value.mul(turns), digit: digitOf(whole).mul(turns), typed: typed || column, inverse: dimension === inverse };
}

/** A decimal number, and what stands behind it. */
const NUMBER = /^([-+]?[\d.,_ ]*\d(?:[eE][-+]?\d+)?)\s*(\D.*)?$/;

/** The unit behind a decimal number; undefined for a text that is none, or a number in another base. */
function unitOf(text: string): string | undefined {
	return /^[-+]?0[xXbB]/.test(text.trim()) ? undefined : (NUMBER.exec(text.trim())?.[2] ?? '');
}

/** What one of the last written digit stands for; nothing of a number in another base, which is exact. */
function digitOf(text: string): Rational {
	const unit = unitOf(text);
	const found = NUMBER.exec(text.trim());
	if (!found || unit === undefined) return Rational.zero;
	const one = readQuantity(`1 ${unit}`);
	return one.ok ? powerOfTen(lastDigit(found[1].replaceAll(/[_ ]/g, ''))).mul(one.quantity.value) : Rational.zero;
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
