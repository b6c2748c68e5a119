import { Rational, showDecimal, showEngineering } from '../../core/exact/index.js';

export { hex } from '../../core/exact/index.js';

const HUNDRED = Rational.int(100);

/** Short forms for sentences. A rounded one begins with the sign for "about". */
export function hertz(value: Rational, digits = 7): string {
	return engineering(value, 'Hz', digits);
}

export function seconds(value: Rational, digits = 7): string {
	return engineering(value, 's', digits);
}

const MICRO = Rational.int(1_000_000);

/** A time as somebody would type it, to the picosecond: "1234.5 us". */
export function typedTime(value: Rational): string {
	const ps = value.mul(MICRO).mul(MICRO).add(Rational.ratio(1, 2)).floor();
	const digits = (ps < 0n ? -ps : ps).toString().padStart(7, '0');
	const after = digits.slice(-6).replace(/0+$/, '');
	return `${ps < 0n ? '-' : ''}${digits.slice(0, -6)}${after === '' ? '' : `.${after}`} us`;
}

export function ppm(value: Rational, digits = 4): string {
	return decimal(value, digits) + ' ppm';
}

/** 7/20 as "35 %". */
export function percent(value: Rational, digits = 5): string {
	const { text, exact } = showDecimal(hundred(value), digits);
	return `${about(exact)}${text} %`;
}

export function decimal(value: Rational, digits = 7): string {
	const { text, exact } = showDecimal(value, digits);
	return about(exact) + text;
}

export function hundred(value: Rational): Rational {
	return value.mul(HUNDRED);
}

/** A signed number with its sign always written; zero has none. */
export function signed(text: string, value: Rational): string {
	return value.sign > 0 ? text.replace(/^(≈?)/, '$1+') : text.replace('-', '−');
}

const THOUSANDS = /\B(?=(\d{3})+$)/g;

/** A power of ten at an axis, in short or as a plain decimal; nothing between two of them. */
export function decade(value: number, plain = false): string {
	const exponent = Math.round(Math.log10(value));
	if (!(value > 0) || Math.abs(Math.log10(value) - exponent) > 1e-6) return '';
	const exact = Rational.parse(`1e${exponent}`);
	if (plain) return exponent >= 3 ? showDecimal(exact, 30).text.replace(THOUSANDS, ',') : showDecimal(exact, 30).text;
	const { text, unit } = showEngineering(exact, '');
	return text + unit;
}

function engineering(value: Rational, unit: string, digits: number): string {
	const shown = showEngineering(value, unit, digits);
	return `${about(shown.exact)}${shown.text} ${shown.unit}`;
}

function about(exact: boolean): string {
	return exact ? '' : '≈';
}

/** A number with its unit, as short as `digits` allows. */
export function quantityText(value: Rational, unit: string, digits = 9): string {
	if (unit === 'Hz' || unit === 's') return engineering(value, unit, digits);
	if (unit === '%') return percent(value, digits);
	return `${decimal(value, digits)} ${unit}`.trim();
}
