import { Rational, showDecimal, showEngineering } from '../../core/exact/index.js';

const HUNDRED = Rational.int(100);

/** Short forms for sentences. A rounded one begins with the sign for "about". */
export function hertz(value: Rational, digits = 7): string {
	return engineering(value, 'Hz', digits);
}

export function seconds(value: Rational, digits = 7): string {
	return engineering(value, 's', digits);
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

export function hex(value: number, width: number): string {
	return (
		'0x' +
		value
			.toString(16)
			.toUpperCase()
			.padStart(Math.ceil(width / 4), '0')
	);
}

function engineering(value: Rational, unit: string, digits: number): string {
	const shown = showEngineering(value, unit, digits);
	return `${about(shown.exact)}${shown.text} ${shown.unit}`;
}

function about(exact: boolean): string {
	return exact ? '' : '≈';
}
