import { Rational } from './rational.js';

/** A number made for the eye: what is shown, whether that is the exact value, and the exact value to copy. */
export interface Shown {
	text: string;
	unit: string;
	/** False when text was rounded. */
	exact: boolean;
	/** The exact value: a terminating decimal where there is a short one, else num/den; in the base unit. */
	full: string;
	/** The same where it is short, otherwise 17 digits of it: for the eye. */
	said: string;
}

const ENGINEERING: [number, string][] = [
	[18, 'E'],
	[15, 'P'],
	[12, 'T'],
	[9, 'G'],
	[6, 'M'],
	[3, 'k'],
	[0, ''],
	[-3, 'm'],
	[-6, 'µ'],
	[-9, 'n'],
	[-12, 'p'],
	[-15, 'f']
];

/** Engineering notation: value 1200 with unit "Hz" is "1.2 kHz". digits = significant digits kept, 1 to 30. */
export function showEngineering(value: Rational, unit: string, digits = 7): Shown {
	const size = value.abs();
	if (size.compare(BEYOND) >= 0) return beyond(value, unit, digits);
	// Nobody says kiloseconds.
	const prefixes = unit === 's' ? ENGINEERING.filter(([e]) => e <= 0) : ENGINEERING;
	let chosen = prefixes.find(([e]) => size.compare(tenTo(e)) >= 0) ?? ENGINEERING[ENGINEERING.length - 1];
	if (value.sign === 0) chosen = [0, ''];
	const scaled = value.div(tenTo(chosen[0]));
	const { text, exact } = showDecimal(scaled, digits);
	// Rounding may carry into the next prefix: 999.99996 k is 1 M.
	const carried = /^-?1000(\.0*)?$/.test(text) && chosen[0] < prefixes[0][0] && chosen[0] >= -15;
	if (carried) {
		const up = ENGINEERING[ENGINEERING.indexOf(ENGINEERING.find(([e]) => e === chosen[0])!) - 1];
		return { text: value.sign < 0 ? '-1' : '1', unit: up[1] + unit, exact, ...wholeText(value, unit) };
	}
	return { text, unit: chosen[1] + unit, exact, ...wholeText(value, unit) };
}

/** An exact number of so many characters is said whole; of a longer one so many digits. */
const SAID = 24;
const DIGITS = 17;

const BEYOND = Rational.of(10n ** 21n);

/** Past all prefixes: 1e30 Hz. */
function beyond(value: Rational, unit: string, digits: number): Shown {
	const exponent = leadingExponent(value.abs());
	const { text, exact } = showDecimal(value.div(tenTo(exponent)), digits);
	return { text: `${text}e${exponent}`, unit, exact, ...wholeText(value, unit) };
}

/** A plain decimal with at most `digits` significant digits, trailing zeros dropped. */
export function showDecimal(value: Rational, digits = 7): { text: string; exact: boolean } {
	if (value.sign === 0) return { text: '0', exact: true };
	const size = value.abs();
	const lead = leadingExponent(size);
	const places = Math.max(0, digits - 1 - lead);
	const scale = 10n ** BigInt(places);
	// Integers longer than `digits` are kept whole: a count is never shown as 12346000 for 12345678.
	const scaled = size.mul(Rational.of(scale));
	const rounded = scaled.roundHalfUp();
	const exact = scaled.isInteger;
	let whole = (rounded / scale).toString();
	if (whole === '0' && rounded === 0n) whole = '0';
	const part = places > 0 ? (rounded % scale).toString().padStart(places, '0').replace(/0+$/, '') : '';
	return { text: (value.sign < 0 ? '-' : '') + whole + (part ? `.${part}` : ''), exact };
}

/** The exact value as a decimal if it terminates within 40 digits, else as num/den. */
export function exactText(value: Rational): string {
	let den = value.den;
	let twos = 0;
	let fives = 0;
	for (; den % 2n === 0n; den /= 2n) twos++;
	for (; den % 5n === 0n; den /= 5n) fives++;
	const places = Math.max(twos, fives);
	if (den !== 1n || places > 40) return `${value.num}/${value.den}`;
	const scaled = ((value.num < 0n ? -value.num : value.num) * 10n ** BigInt(places)) / value.den;
	const digits = scaled.toString().padStart(places + 1, '0');
	const text = places ? `${digits.slice(0, -places)}.${digits.slice(-places)}` : digits;
	return (value.sign < 0 ? '-' : '') + text;
}

/** A decimal of so many places at the most, rounded half away from zero, without trailing zeros. */
export function decimalText(value: Rational, places: number): string {
	const scale = 10n ** BigInt(places);
	const size = value.abs();
	const scaled = (2n * size.num * scale + size.den) / (2n * size.den);
	const digits = scaled.toString().padStart(places + 1, '0');
	const text = places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`.replace(/\.?0+$/, '');
	return (value.sign < 0 && scaled !== 0n ? '-' : '') + text;
}

/** What is copied, and what is said of it. */
export function wholeText(value: Rational, unit: string): Pick<Shown, 'full' | 'said'> {
	const withUnit = (text: string) => `${text} ${unit}`.trim();
	const full = exactText(value);
	if (full.length <= SAID) return { full: withUnit(full), said: withUnit(full) };
	const { text, exact } = shortText(value);
	return { full: withUnit(full), said: withUnit(`${exact ? '' : '≈'}${text}`) };
}

/** 17 significant digits, with an exponent where a plain number would be long. */
function shortText(value: Rational): { text: string; exact: boolean } {
	const size = value.abs();
	const exponent = leadingExponent(size);
	if (exponent > -6 && exponent < DIGITS) return showDecimal(value, DIGITS);
	const { text, exact } = showDecimal(value.div(tenTo(exponent)), DIGITS);
	return { text: `${text}e${exponent}`, exact };
}

function tenTo(exponent: number): Rational {
	const ten = 10n ** BigInt(Math.abs(exponent));
	return exponent < 0 ? Rational.of(1n, ten) : Rational.of(ten);
}

/** floor(log10(size)) of a positive value. */
function leadingExponent(size: Rational): number {
	let guess = size.num.toString().length - size.den.toString().length;
	if (size.compare(tenTo(guess)) < 0) guess--;
	return guess;
}

/** A word of so many bits with all its hexadecimal digits, "0x00FF"; without bits, the digits it needs. */
export function hex(value: number | bigint, bits = 0): string {
	const digits = value.toString(16).toUpperCase();
	return `0x${digits.padStart(Math.ceil(bits / 4), '0')}`;
}
