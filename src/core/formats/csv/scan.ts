/** Powers of ten that doubles hold exactly. */
export const TEN = Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));

const NEWLINE = 10;
const SPACE = 32;
const RETURN = 13;
const QUOTE = 34;

/** Reads one cell as a number, mantissa x 10^power, without making a string of it. */
export class CellScanner {
	mantissa = 0;
	power = 0;
	/** Where the cell ends: at its separator, its line break, or the last byte. */
	end = 0;

	/** The two as character codes. */
	constructor(
		private readonly separator: number,
		private readonly decimal: number
	) {}

	/**
	 * Scans a number from `at` to the separator or the line's end into mantissa x 10^power, and sets end. 1: a number;
	 * 0: an empty cell; -1: something else. A mantissa past 2^53 is left to the slow path.
	 */
	scan(bytes: Uint8Array, at: number): 0 | 1 | -1 {
		const { separator, decimal } = this;
		let i = at;
		let byte = bytes[i];
		while (byte === SPACE && separator !== SPACE) byte = bytes[++i];
		const negative = byte === 45;
		if (negative || byte === 43) byte = bytes[++i];
		// Digits are gathered in runs of nine, which whole numbers of 31 bits hold, and folded once a run.
		let mantissa = 0;
		let run = 0;
		let length = 0;
		let power = 0;
		let count = 0;
		for (let fraction = false; ; byte = bytes[++i]) {
			if (byte >= 48 && byte <= 57) {
				if (length === 9) {
					mantissa = mantissa * 1e9 + run;
					run = length = 0;
				}
				run = (run * 10 + byte - 48) | 0;
				length++;
				count++;
				if (fraction) power--;
			} else if (byte === decimal && !fraction) fraction = true;
			else break;
		}
		mantissa = mantissa * TEN[length] + run;
		if (count > 0 && (byte === 101 || byte === 69)) {
			byte = bytes[++i];
			const down = byte === 45;
			if (down || byte === 43) byte = bytes[++i];
			let exponent = 0;
			const first = i;
			while (byte >= 48 && byte <= 57 && exponent < 1000) {
				exponent = exponent * 10 + (byte - 48);
				byte = bytes[++i];
			}
			if (i === first) count = -1;
			power += down ? -exponent : exponent;
		}
		while ((byte === SPACE && separator !== SPACE) || byte === RETURN) byte = bytes[++i];
		const ended = byte === separator || byte === NEWLINE || byte === undefined;
		this.end = ended ? i : cellStop(bytes, at, separator);
		this.mantissa = negative ? -mantissa : mantissa;
		this.power = power;
		if (!ended || mantissa > Number.MAX_SAFE_INTEGER) return -1;
		return count > 0 ? 1 : count === 0 && !negative ? 0 : -1;
	}
}

/** Where the cell that begins at `at` ends; a separator within quotes separates nothing. */
export function cellStop(bytes: Uint8Array, at: number, separator: number): number {
	let first = at;
	while (bytes[first] === SPACE && separator !== SPACE) first++;
	if (bytes[first] === QUOTE) {
		let close = first + 1;
		while (close < bytes.length && bytes[close] !== NEWLINE && (bytes[close] !== QUOTE || bytes[close + 1] === QUOTE))
			close += bytes[close] === QUOTE ? 2 : 1;
		if (bytes[close] === QUOTE) at = close + 1;
	}
	while (at < bytes.length && bytes[at] !== separator && bytes[at] !== NEWLINE) at++;
	return at;
}
