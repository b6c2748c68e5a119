import { Rational } from '../exact/index.js';
import { wanted, wants } from './findings.js';
import { isPlain, ones, plainInteger, readNumber } from './numbers.js';

/** Which code a place holds for a value (handoff.md 3). */
export type As =
	| { kind: 'plain' | 'log2' | 'from-top' | 'signed' | 'code' }
	| { kind: 'formula'; factor: Rational; plus: bigint }
	| { kind: 'words'; rows: [word: string, code: bigint][] }
	| { kind: 'list'; codes: (bigint | null)[] };

/** What a plan gives a quantity, and a dump gives back: an integer, "num/den", or a word. */
export type QuantityValue = number | string | boolean;

/** A profile's own codes of a quantity: value and code, or a run of codes with a step each. */
export type CodeRow = readonly [QuantityValue, number] | { from: number; to: number; base: number; step: number };

/** Reads `as` of a value of so many bits. Throws Fault. */
export function readAs(raw: unknown, width: number): As {
	if (raw === undefined) return { kind: 'plain' };
	if (raw === 'log2' || raw === 'signed' || raw === 'code') return { kind: raw };
	if (raw === '2^w-v') return { kind: 'from-top' };
	const fits = (code: bigint) => {
		wants(code <= ones(width), 'no-fit');
		return code;
	};
	if (typeof raw === 'string') return readFormula(raw);
	if (Array.isArray(raw)) return { kind: 'list', codes: raw.map((one) => (one === null ? null : fits(wanted(readNumber(one))))) };
	wants(isPlain(raw), 'bad-shape');
	return { kind: 'words', rows: Object.entries(raw).map(([word, code]) => [word, fits(wanted(readNumber(code)))]) };
}

/** "v", then at most one of *N and /N, then at most one of +N and -N. */
function readFormula(text: string): As {
	const match = wanted(/^v(?:([*/])(\d{1,20}))?(?:([+-])(\d{1,20}))?$/.exec(text) ?? undefined);
	const by = match[2] === undefined ? Rational.one : Rational.of(BigInt(match[2]), 1n);
	wants(by.sign > 0, 'bad-shape');
	const plus = BigInt(match[4] ?? 0);
	return { kind: 'formula', factor: match[1] === '/' ? by.inverse() : by, plus: match[3] === '-' ? -plus : plus };
}

/** The value as an exact number; undefined for a word. */
function numberOf(value: QuantityValue): Rational | undefined {
	if (typeof value === 'boolean') return value ? Rational.one : Rational.zero;
	if (typeof value === 'number') return Number.isSafeInteger(value) ? Rational.int(value) : undefined;
	return /^-?\d+(?:\/\d+)?$/.test(value) ? Rational.tryParse(value) : undefined;
}

/** As tables compare it. */
export function textOf(value: QuantityValue): string {
	const number = numberOf(value);
	if (!number) return String(value);
	return number.isInteger ? String(number.num) : number.toString();
}

/** The code of a value in `width` bits; undefined: it has none. It may not fit: less than 0, or more than the width holds. */
export function encode(as: As, value: QuantityValue, width: number, codes: readonly CodeRow[] = []): bigint | undefined {
	const number = numberOf(value);
	const whole = number?.isInteger ? number.num : undefined;
	switch (as.kind) {
		case 'plain':
			return whole;
		case 'formula': {
			const code = number?.mul(as.factor).add(Rational.of(as.plus, 1n));
			return code?.isInteger ? code.num : undefined;
		}
		case 'log2':
			return whole === undefined ? undefined : exponentOf(whole);
		case 'from-top':
			return whole === undefined ? undefined : (1n << BigInt(width)) - whole;
		case 'signed':
			return whole === undefined ? undefined : signedCode(whole, width);
		case 'code':
			return leastCode(codes, value);
		case 'words':
			return as.rows.find(([word]) => word === textOf(value))?.[1];
		case 'list':
			return whole !== undefined && whole >= 0n && whole < BigInt(as.codes.length) ? (as.codes[Number(whole)] ?? undefined) : undefined;
	}
}

function exponentOf(value: bigint): bigint | undefined {
	if (value <= 0n) return undefined;
	const exponent = value.toString(2).length - 1;
	return exponent <= 63 && value === 1n << BigInt(exponent) ? BigInt(exponent) : undefined;
}

/** Two's complement; what does not fit stays as it is. */
function signedCode(value: bigint, width: number): bigint {
	const half = 1n << BigInt(width - 1);
	if (value < -half || value >= half) return value;
	return value < 0n ? value + 2n * half : value;
}

/** May a code be held: of signed values those out of their range cannot. */
export function fits(as: As, value: QuantityValue, code: bigint, width: number): boolean {
	if (code < 0n || code > ones(width)) return false;
	if (as.kind !== 'signed') return true;
	const half = 1n << BigInt(width - 1);
	const whole = numberOf(value)!.num;
	return whole >= -half && whole < half;
}

/** The smallest of a profile's codes for a value. */
function leastCode(codes: readonly CodeRow[], value: QuantityValue): bigint | undefined {
	const number = numberOf(value);
	let least: number | undefined;
	const take = (code: number) => {
		if (least === undefined || code < least) least = code;
	};
	for (const row of codes) {
		if ('from' in row) {
			const code = number?.isInteger ? codeInRun(row, Number(number.num)) : undefined;
			if (code !== undefined) take(code);
		} else if (textOf(row[0]) === textOf(value)) take(row[1]);
	}
	return least === undefined ? undefined : BigInt(least);
}

function codeInRun({ from, to, base, step }: { from: number; to: number; base: number; step: number }, value: number): number | undefined {
	const steps = step === 0 ? (value === base ? 0 : NaN) : (value - base) / step;
	return Number.isInteger(steps) && steps >= 0 && from + steps <= to ? from + steps : undefined;
}

/** The value that a code stands for; undefined: it stands for none. */
export function decode(as: As, code: bigint, width: number, codes: readonly CodeRow[] = []): QuantityValue | undefined {
	switch (as.kind) {
		case 'plain':
			return plainInteger(code);
		case 'formula': {
			const value = Rational.of(code - as.plus, 1n).div(as.factor);
			return value.isInteger ? plainInteger(value.num) : value.toString();
		}
		case 'log2':
			return code <= 63n ? plainInteger(1n << code) : undefined;
		case 'from-top':
			return plainInteger((1n << BigInt(width)) - code);
		case 'signed':
			return plainInteger(code >= 1n << BigInt(width - 1) ? code - (1n << BigInt(width)) : code);
		case 'code':
			return valueOfCode(codes, Number(code));
		case 'words':
			return leastWord(as.rows.filter(([, one]) => one === code).map(([word]) => word));
		case 'list': {
			const index = as.codes.findIndex((one) => one === code);
			return index < 0 ? undefined : index;
		}
	}
}

/** The least integer, else the first word. */
function leastWord(words: readonly string[]): QuantityValue | undefined {
	const integers = words.filter((word) => /^\d+$/.test(word)).map(BigInt);
	if (integers.length > 0) return plainInteger(integers.reduce((a, b) => (b < a ? b : a)));
	return words.at(0);
}

function valueOfCode(codes: readonly CodeRow[], code: number): QuantityValue | undefined {
	for (const row of codes) {
		if ('from' in row) {
			if (code >= row.from && code <= row.to) return row.base + (code - row.from) * row.step;
		} else if (row[1] === code) return row[0];
	}
	return undefined;
}
