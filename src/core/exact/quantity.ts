import { Rational } from './rational.js';

/**
 * Reads quantities as people type them: "1.2 kHz", "850us", "35 %", "1/3", "0xB1E0", "120 us on",
 * "2.5 turns", "120 deg", "1e6 Hz", "10 bits". The value is exact and in the base unit of its dimension.
 */
export type Dimension =
	'frequency' | 'time' | 'ratio' | 'angle' | 'bits' | 'ticks' | 'counts' | 'resistance' | 'capacitance' | 'inductance' | 'number';

export interface Quantity {
	dimension: Dimension;
	/** Hertz, seconds, a plain ratio (35 % is 7/20), turns, bits, ticks or a bare number. */
	value: Rational;
	/** A trailing word that says which part is meant: "120 us on" against "off". */
	part?: 'on' | 'off';
}

export type ReadFailure = 'empty' | 'no-number' | 'unknown-unit' | 'zero-denominator' | 'too-long' | 'ambiguous';

/** `readings`: both ways in which a comma could be meant. */
export type ReadResult = { ok: true; quantity: Quantity } | { ok: false; reason: ReadFailure; unit?: string; readings?: [string, string] };

const PREFIX: Record<string, number> = { T: 12, G: 9, M: 6, k: 3, K: 3, '': 0, m: -3, u: -6, µ: -6, μ: -6, n: -9, p: -12, f: -15 };

const FIXED: Record<string, [Dimension, Rational]> = {
	'': ['number', Rational.one],
	'%': ['ratio', Rational.ratio(1, 100)],
	percent: ['ratio', Rational.ratio(1, 100)],
	ppm: ['ratio', Rational.ratio(1, 1_000_000)],
	ppb: ['ratio', Rational.ratio(1, 1_000_000_000)],
	rpm: ['frequency', Rational.ratio(1, 60)],
	min: ['time', Rational.int(60)],
	h: ['time', Rational.int(3600)],
	turn: ['angle', Rational.one],
	turns: ['angle', Rational.one],
	deg: ['angle', Rational.ratio(1, 360)],
	'°': ['angle', Rational.ratio(1, 360)],
	bit: ['bits', Rational.one],
	bits: ['bits', Rational.one],
	tick: ['ticks', Rational.one],
	ticks: ['ticks', Rational.one],
	count: ['counts', Rational.one],
	counts: ['counts', Rational.one]
};

const MAX_LENGTH = 80;

/**
 * Never throws. A comma is a decimal point when it is the only separator and not followed by a group of three; "21,500" could be either, and
 * is refused. Blanks, underscores and several commas part groups of three.
 */
export function readQuantity(text: string): ReadResult {
	const trimmed = text.trim();
	if (trimmed === '') return { ok: false, reason: 'empty' };
	if (trimmed.length > MAX_LENGTH) return { ok: false, reason: 'too-long' };
	const hex = /^([+-]?)0[xX]([0-9a-fA-F_]+)$/.exec(trimmed);
	const binary = /^([+-]?)0[bB]([01_]+)$/.exec(trimmed);
	const based = hex ?? binary;
	if (based) return readBased(based[1], (hex ? '0x' : '0b') + based[2].replaceAll('_', ''));

	const match = /^([+-]?[\d.,_]+(?:\s?\d{3})*(?:(?<=\s\d{3})[.,]\d+)?(?:[eE][+-]?\d{1,3})?(?:\s*\/\s*\d+)?)\s*(.*)$/u.exec(trimmed);
	if (!match) return { ok: false, reason: 'no-number' };
	const readings = bothReadings(match[1], match[2]);
	if (readings) return { ok: false, reason: 'ambiguous', readings };
	const number = plainNumber(match[1]);
	if (/\/\s*0+$/.test(number)) return { ok: false, reason: 'zero-denominator' };
	const magnitude = Rational.tryParse(number);
	if (!magnitude) return { ok: false, reason: 'no-number' };

	const tail = /^(.*?)(?:\s+|(?<=%))(on|off|high|low)$/.exec(match[2]);
	const unit = (tail ? tail[1] : match[2]).trim();
	const found = readUnit(unit);
	if (!found) return { ok: false, reason: 'unknown-unit', unit: match[2] };
	const quantity: Quantity = { dimension: found[0], value: magnitude.mul(found[1]) };
	if (tail) quantity.part = tail[2] === 'on' || tail[2] === 'high' ? 'on' : 'off';
	return { ok: true, quantity };
}

function readBased(sign: string, digits: string): ReadResult {
	if (digits.length === 2) return { ok: false, reason: 'no-number' };
	const magnitude = Rational.of(BigInt(digits));
	return { ok: true, quantity: { dimension: 'number', value: sign === '-' ? magnitude.neg() : magnitude } };
}

/** A single comma before three digits parts thousands for some and decimals for others. */
function bothReadings(text: string, unit: string): [string, string] | undefined {
	if (!/^[+-]?[1-9]\d{0,2},\d{3}(?:[eE][+-]?\d+)?$/.test(text.replaceAll('_', ''))) return undefined;
	return [`${text.replace(',', '')} ${unit}`.trim(), `${text.replace(',', '.')} ${unit}`.trim()];
}

function plainNumber(text: string): string {
	let number = text.replace(/[_\s]/g, '');
	const commas = (number.match(/,/g) ?? []).length;
	if (commas === 1 && !number.includes('.')) number = number.replace(',', '.');
	else if (commas > 0 && /^[+-]?\d{1,3}(,\d{3})+(\.\d*)?(?:[eE].*)?(\/\d+)?$/.test(number)) number = number.replaceAll(',', '');
	return number;
}

function readUnit(unit: string): [Dimension, Rational] | undefined {
	if (Object.hasOwn(FIXED, unit)) return FIXED[unit];
	// A capital H is henry, a small one an hour.
	const lower = unit === 'H' ? unit : unit.toLowerCase();
	if (Object.hasOwn(FIXED, lower)) return FIXED[lower];
	const hertz = /^(.?)hz$/iu.exec(unit);
	if (hertz) {
		// "mhz" written small is what people type for megahertz; millihertz wants its capital H.
		const prefix = unit === 'mhz' ? 'M' : hertz[1] === 'g' ? 'G' : hertz[1];
		return Object.hasOwn(PREFIX, prefix) ? ['frequency', power(PREFIX[prefix])] : undefined;
	}
	const part = /^([fpnuµμmkKMG]?)(ohms?|Ohms?|Ω|Ω|F|H)$/.exec(unit);
	if (part) return [part[2] === 'F' ? 'capacitance' : part[2] === 'H' ? 'inductance' : 'resistance', power(PREFIX[part[1]])];
	const seconds = /^([mMuµμnpf]?)(s|sec|second|seconds)$/.exec(unit);
	if (seconds && seconds[1] !== 'M') return ['time', power(PREFIX[seconds[1]])];
	return undefined;
}

function power(exponent: number): Rational {
	const ten = 10n ** BigInt(Math.abs(exponent));
	return exponent < 0 ? Rational.of(1n, ten) : Rational.of(ten);
}
