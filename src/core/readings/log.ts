/** A log of pairs as it was read: numbers line by line, and which of them are what was set and what was read. */
export interface PairLog {
	rows: [string, string][];
	/** How many values a line has, and which two were taken, from 0. */
	columns: number;
	taken: [number, number];
	/** What stands over the columns, where a line of words does. */
	headings?: string[];
	/** Units that stand in the headings of the two; empty: none. */
	units: [string, string];
	/** Lines, from 1, of which nothing was taken though they are not empty: words, prompts, lines that were cut off. */
	passed: number[];
}

const UNITS = String.raw`(?:[TGMkKmuµμnpf]?(?:Hz|s)|%|°|deg|ticks?|counts?|turns?|rpm)(?![A-Za-z])`;
const VALUE = new RegExp(
	String.raw`(?<![\w.])[-+]?(?:0x[0-9a-fA-F]+|\d[\d_]*(?:DEC\d+)?(?:[eE][-+]?\d+)?)(?:\s?${UNITS})?(?![\w])`.replace('DEC', '[.]'),
	'g'
);
const COMMA_VALUE = new RegExp(VALUE.source.replace('[.]', ','), 'g');
/** Stamps that terminals put before a line: a time of day, with or without a date or brackets around. */
const STAMP = /^\s*[[(<]?\s*(?:\d{4}-\d{2}-\d{2}[T ])?\d{1,2}:\d{2}(?::\d{2}(?:[.,]\d+)?)?Z?\s*[\])>]?\s*(?:->|[:>|])?\s*/;
/** What a terminal puts in: colours, and what rubs out. */
// eslint-disable-next-line no-control-regex
const CONTROL = /\u001b\[[0-9;?]*[A-Za-z]|[\u0000-\u0008\u000b-\u001f\u007f]/g;

/**
 * Reads pairs of values as a terminal, a table or a hand gives them: any words and signs between, stamps of time before, units behind.
 * `told`: which values of a line are taken; left out: the only two, else the last two. A comma is a decimal sign where the lines are parted by
 * something else.
 */
export function readPairs(text: string, told?: [number, number]): PairLog {
	const { lines, bodies, values } = valuesOf(text);
	const columns = commonest(values.map((found) => found.length).filter((count) => count >= 2));
	const taken: [number, number] = told && Math.max(...told) < columns ? told : [Math.max(0, columns - 2), Math.max(1, columns - 1)];
	const rows: [string, string][] = [];
	const passed: number[] = [];
	values.forEach((found, i) => {
		if (columns >= 2 && found.length === columns) rows.push([plain(found[taken[0]]), plain(found[taken[1]])]);
		else if (lines[i].trim() !== '') passed.push(i + 1);
	});
	const headings = headingsOf(bodies, values, columns);
	const units = taken
		.map((at) => new RegExp(String.raw`[([]\s*(${UNITS})\s*[)\]]|\s(${UNITS})\s*$`).exec(headings?.[at] ?? ''))
		.map((m) => m?.[1] ?? m?.[2] ?? '');
	return { rows, columns, taken, ...(headings && { headings }), units: units as [string, string], passed };
}

/** The last value of each line, as it stands there, with its line from 1; and the lines that are not empty and hold none. */
export function logValues(text: string): { values: { text: string; line: number }[]; passed: number[] } {
	const { lines, values } = valuesOf(text);
	const last = values.map((found) => found.at(-1));
	return {
		values: last.flatMap((value, i) => (value === undefined ? [] : [{ text: plain(value), line: i + 1 }])),
		passed: last.flatMap((value, i) => (value === undefined && lines[i].trim() !== '' ? [i + 1] : []))
	};
}

/** Lines, the same without stamps and what terminals put in, and the values of each. */
function valuesOf(text: string): { lines: string[]; bodies: string[]; values: string[][] } {
	const lines = text
		.replaceAll(CONTROL, (control) => (control === '\n' || control === '\t' ? control : ''))
		.replaceAll('\u2212', '-')
		.split(/\r\n|\r|\n/);
	const bodies = lines.map((line) => line.replace(STAMP, ''));
	const pattern = decimalComma(bodies) ? COMMA_VALUE : VALUE;
	return { lines, bodies, values: bodies.map((line) => line.match(pattern) ?? []) };
}

/** Commas are decimal signs where every one stands between digits, some line has no other sign between its values, and no point does. */
function decimalComma(lines: readonly string[]): boolean {
	const numbered = lines.filter((line) => /\d/.test(line));
	const commas = numbered.filter((line) => line.includes(','));
	if (commas.length === 0 || numbered.some((line) => /\d\.\d/.test(line))) return false;
	return commas.every((line) => !/,(?!\d)|(?<!\d),/.test(line) && /\d[\s;|\t:=>A-Za-z]+[-+]?\d/.test(line));
}

function plain(value: string): string {
	return value.replace(/_/g, '').replace(',', '.').trim();
}

function commonest(counts: readonly number[]): number {
	const often = new Map<number, number>();
	for (const count of counts) often.set(count, (often.get(count) ?? 0) + 1);
	return [...often].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? 0;
}

/** The words of the line before the first row, where they are as many as its values. */
function headingsOf(lines: readonly string[], values: readonly string[][], columns: number): string[] | undefined {
	const first = values.findIndex((found) => found.length === columns && columns >= 2);
	const before = first > 0 ? lines.slice(0, first).findLast((line) => line.trim() !== '') : undefined;
	if (before === undefined) return undefined;
	const words = before
		.replace(/^[#;/\s]+/, '')
		.split(/\s*[,;|\t]\s*|\s{2,}/)
		.map((word) => word.trim());
	return words.length === columns && words.every((word) => /\p{L}/u.test(word)) ? words : undefined;
}
