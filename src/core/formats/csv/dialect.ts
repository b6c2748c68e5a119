import { TIME_UNITS } from '../recording.js';

/** How a file of rows is written, found from its first lines. */
export interface Dialect {
	separator: ',' | ';' | '\t' | ' ';
	decimal: '.' | ',';
	/** Index of the first data line among the lines given. */
	firstRow: number;
	/** Names of all columns; made up where the file has none. */
	names: string[];
	named: boolean;
	/** Which column holds the time, and the power of ten of its unit. */
	timeColumn: number;
	timeExponent: number;
	timeUnitSaid: boolean;
}

/** More columns than any recording has. */
const MOST_CELLS = 10_000;

const CANDIDATES: [Dialect['separator'], Dialect['decimal']][] = [
	[',', '.'],
	[';', '.'],
	[';', ','],
	['\t', '.'],
	['\t', ','],
	[' ', '.']
];

/** null when no way of reading the lines gives rows of a time and at least one more number. */
export function findDialect(lines: readonly string[]): Dialect | null {
	let best: { first: number; rows: number; width: number; candidate: (typeof CANDIDATES)[number] } | undefined;
	for (const candidate of CANDIDATES) {
		const found = longestRun(lines, ...candidate);
		if (found && (!best || found.rows > best.rows)) best = { ...found, candidate };
	}
	if (!best) return null;
	const [separator, decimal] = best.candidate;
	return { separator, decimal, firstRow: best.first, ...headings(lines.slice(0, best.first), separator, best.width) };
}

/** Cells of one line. A cell may stand in quotes, which are dropped; a separator within them separates nothing. */
export function cellsOf(line: string, separator: Dialect['separator']): string[] {
	if (!line.includes('"')) return separator === ' ' ? line.trim().split(/ +/) : line.split(separator).map((cell) => cell.trim());
	const quoted =
		separator === ' '
			? /"((?:[^"]|"")*)"|([^ "]+)/g
			: new RegExp(`\\s*(?:"((?:[^"]|"")*)"|([^${separator}]*))\\s*(?:${separator}|$)`, 'gy');
	const cells: string[] = [];
	const text = line.trim();
	for (let match = quoted.exec(text); match && cells.length < MOST_CELLS; match = quoted.exec(text)) {
		cells.push((match[1]?.replaceAll('""', '"') ?? match[2] ?? '').trim());
		if (quoted.lastIndex >= text.length) {
			if (separator !== ' ' && text.endsWith(separator)) cells.push('');
			break;
		}
	}
	return cells;
}

/** The first run of numeric rows of one width that reaches the end of the lines given. */
function longestRun(
	lines: readonly string[],
	separator: Dialect['separator'],
	decimal: Dialect['decimal']
): { first: number; rows: number; width: number } | null {
	const widths = lines.map((line) => rowWidth(cellsOf(line, separator), decimal));
	let last = lines.length - 1;
	while (last >= 0 && (lines[last].trim() === '' || (last === lines.length - 1 && widths[last] === 0))) last--;
	if (last < 0) return null;
	const width = Math.max(...widths.slice(Math.max(0, last - 8), last + 1));
	if (width < 2) return null;
	let first = last + 1;
	while (first > 0 && (lines[first - 1].trim() === '' || (widths[first - 1] > 0 && widths[first - 1] <= width))) first--;
	while (first <= last && widths[first] < 2) first++;
	return first > last ? null : { first, rows: last - first + 1, width };
}

/** Number of cells if all are numbers, levels or empty and the first is a number; 0 otherwise. */
function rowWidth(cells: string[], decimal: Dialect['decimal']): number {
	while (cells.length > 2 && cells[cells.length - 1] === '') cells.pop();
	const number = decimal === '.' ? /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/ : /^[+-]?(\d+,?\d*|,\d+)([eE][+-]?\d+)?$/;
	const fine = cells.every((cell, i) => number.test(cell) || (i > 0 && /^([xXzZ]|nan)?$/i.test(cell)));
	return fine && cells[0] !== '' ? cells.length : 0;
}

function headings(
	before: readonly string[],
	separator: Dialect['separator'],
	width: number
): Omit<Dialect, 'separator' | 'decimal' | 'firstRow'> {
	const rows = before.filter((line) => line.trim() !== '').map((line) => cellsOf(line, separator));
	for (const row of rows) while (row.length > width && row[row.length - 1] === '') row.pop();
	let units: string[] | undefined;
	let names = rows.pop();
	if (names && names.length === width && rows.at(-1)?.length === width && names.every(isUnit)) {
		units = names;
		names = rows.pop();
	}
	const named = names?.length === width;
	const all = named ? names! : Array.from({ length: width }, (_, i) => (i === 0 ? 'time' : `column ${i + 1}`));
	const timeColumn = Math.max(
		0,
		all.findIndex((name) => /^(time|t|zeit|seconds|timestamp)([^a-z].*)?$/i.test(name))
	);
	const exponent = TIME_UNITS[unitOf(units?.[timeColumn] ?? '') ?? unitOf(all[timeColumn]) ?? ''];
	return {
		names: all.map((name, i) => (i === timeColumn ? name : bare(name) || `column ${i + 1}`)),
		named,
		timeColumn,
		timeExponent: exponent ?? 0,
		timeUnitSaid: exponent !== undefined
	};
}

/** "Heater (V)" is Heater. */
function bare(name: string): string {
	return name.replace(/\s*[([][^()[\]]*[)\]]\s*$/, '').trim();
}

function isUnit(cell: string): boolean {
	return /^[([]?\s*(|[mµun]?[sSVA]|sec|seconds|volts?|level|bool|-)\s*[)\]]?$/.test(cell);
}

/** The time unit that a heading names: "time (us)", "t/ms", "Time_ns", "[s]", "ms". */
function unitOf(heading: string): string | undefined {
	const match = /(?:^|[^a-zA-Zµμ])(s|ms|us|µs|μs|ns|ps|fs|sec|seconds)\s*[)\]]?\s*$/.exec(heading.trim());
	return match ? (match[1].startsWith('sec') ? 's' : match[1]) : undefined;
}
