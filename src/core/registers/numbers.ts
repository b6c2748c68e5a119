/** Reads what a binding writes: numbers, ranges of bits, names (handoff.md 1 to 3). */

const NUMBER = /^(?:0x([0-9a-fA-F_]+)|0b([01_]+)|([0-9_]+))$/;
/** Digits of a number as text at the most: more than any address or word needs. */
const MOST_DIGITS = 80;

/** An integer of 0 or more, or a text of one; leading zeros are not octal, `_` stands between digits. undefined: it is none. */
export function readNumber(raw: unknown): bigint | undefined {
	if (typeof raw === 'number') return Number.isSafeInteger(raw) && raw >= 0 ? BigInt(raw) : undefined;
	if (typeof raw !== 'string' || raw.length > MOST_DIGITS) return undefined;
	const match = NUMBER.exec(raw);
	if (!match) return undefined;
	const digits = match[1] ?? match[2] ?? match[3];
	if (/^_|_$|__/.test(digits)) return undefined;
	const plain = digits.replaceAll('_', '');
	return BigInt(match[1] !== undefined ? `0x${plain}` : match[2] !== undefined ? `0b${plain}` : plain.replace(/^0+(?=\d)/, ''));
}

/** Bits from `high` down to `low`, both included. */
export interface Range {
	high: number;
	low: number;
}

/** "msb:lsb" or "bit"; whether msb is the greater is not looked at. */
export function readRange(raw: unknown): Range | undefined {
	const match = typeof raw === 'string' ? /^(\d{1,4})(?::(\d{1,4}))?$/.exec(raw.trim()) : null;
	if (!match) return undefined;
	return { high: Number(match[1]), low: Number(match[2] ?? match[1]) };
}

/** Ones from bit 0 up, so many. */
export const ones = (bits: number): bigint => (1n << BigInt(bits)) - 1n;

export const widthOf = ({ high, low }: Range): number => high - low + 1;

export const maskOf = (range: Range): bigint => ones(widthOf(range)) << BigInt(range.low);

/** As JSON has it: an integer, or from 2^53 on a rational. */
export function plainInteger(value: bigint): number | string {
	const small = value < 0n ? -value : value;
	return small <= BigInt(Number.MAX_SAFE_INTEGER) ? Number(value) : `${value}/1`;
}

export type Plain = Record<string, unknown>;

export const isPlain = (raw: unknown): raw is Plain => typeof raw === 'object' && raw !== null && !Array.isArray(raw);
