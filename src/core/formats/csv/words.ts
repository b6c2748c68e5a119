/** What stands in cells beside plain numbers, in the words of many recorders and terminals. */

/** Levels in words. */
const LEVELS: Readonly<Record<string, 0 | 1>> = {
	true: 1,
	false: 0,
	high: 1,
	low: 0,
	hi: 1,
	lo: 0,
	on: 1,
	off: 0,
	h: 1,
	l: 0,
	yes: 1,
	no: 0
};

/** A value that the recorder did not have: unknown, out of its range, or not taken. */
const UNKNOWN =
	/^([xzuw?*]|#?n\/?a!?|[+-]?nan|null|none|nil|undef(ined)?|invalid|error|err|[+-]?(inf(inity)?|∞)|[+-]?(ov(l|r|er|erflow|erload|rng|ld)?|ol|o\.l|uflw|underflow|clip(ped)?)|--+|-|\.|missing|blank)$/i;

/** Powers of ten of the prefixes of units; the small m of a unit is milli, the large one mega. */
const PREFIXES: Readonly<Record<string, number>> = { f: -15, p: -12, n: -9, u: -6, µ: -6, μ: -6, m: -3, '': 0, k: 3, K: 3, M: 6, G: 9 };

/** Words of time units, in small letters. */
const TIME_WORDS: Readonly<Record<string, number>> = {
	s: 0,
	sec: 0,
	secs: 0,
	second: 0,
	seconds: 0,
	sekunden: 0,
	ms: -3,
	msec: -3,
	msecs: -3,
	millis: -3,
	millisec: -3,
	millisecond: -3,
	milliseconds: -3,
	us: -6,
	µs: -6,
	μs: -6,
	usec: -6,
	usecs: -6,
	µsec: -6,
	μsec: -6,
	micros: -6,
	microsec: -6,
	microsecond: -6,
	microseconds: -6,
	ns: -9,
	nsec: -9,
	nsecs: -9,
	nanos: -9,
	nanosec: -9,
	nanosecond: -9,
	nanoseconds: -9,
	ps: -12,
	psec: -12,
	picosecond: -12,
	picoseconds: -12,
	fs: -15,
	fsec: -15,
	femtosecond: -15,
	femtoseconds: -15
};

/** Minutes, hours and days are no powers of ten: they are known, and not read as seconds. */
const LONG_TIMES = /^(min|mins|minutes?|h|hr|hrs|hours?|d|days?)$/i;

/** 1, 0, NaN for an unknown level; undefined for a word that says nothing of a level. */
export function levelWord(cell: string): number | undefined {
	const level = LEVELS[cell.toLowerCase()];
	if (level !== undefined) return level;
	return UNKNOWN.test(cell) ? NaN : undefined;
}

/** The power of ten of a time unit; undefined for a word that is none. "mS" and "MSEC" are milliseconds: nobody records in megaseconds. */
export function timeUnit(word: string): number | undefined {
	return TIME_WORDS[word.toLowerCase()];
}

/** Is the word of a unit of time that rows are not read in? */
export function longTimeUnit(word: string): boolean {
	return LONG_TIMES.test(word);
}

/** A number and its unit, "1.5 mV" or "12ms": the number's text and the power of ten of the prefix; undefined for anything else. */
export function withUnit(cell: string): { number: string; power: number; unit: string } | undefined {
	const found = /^([+-]?[\d.,]+(?:[eE][+-]?\d+)?)\s*([fpnuµμmkKMG]?)(V|A|W|Hz|Ω|ohm|s|sec|%|°C)$/.exec(cell);
	return found ? { number: found[1], power: PREFIXES[found[2]], unit: found[3] } : undefined;
}

/** A cell as it is meant: without blanks and quotes around it, and with the signs of keyboards. */
export function plainCell(text: string): string {
	return plainSigns(text)
		.trim()
		.replace(/^"(.*)"$/, '$1')
		.trim();
}

/** Takes away what groups digits; a file without such leaves all as it is. */
export function ungrouped(thousands: string): (number: string) => string {
	return thousands === '' ? (number) => number : (number) => number.replaceAll(thousands, '');
}

/** Minus signs and blanks of print as those of keyboards. */
export function plainSigns(cell: string): string {
	return cell.replace(/[\u2212\u2013\ufe63\uff0d]/g, '-').replace(/[\u00a0\u2007\u2009\u202f]/g, ' ');
}
