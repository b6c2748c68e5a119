import { levelWord, plainSigns, withUnit } from './words.js';
import { timeKind, type TimeKind } from './times.js';
import type { ReadSettings } from '../settings.js';
import { headings, type Headings } from './headings.js';

export type Separator = ',' | ';' | '\t' | '|' | ' ';
export type Decimal = '.' | ',';

/** How a file of rows is written, found from its first lines. */
export interface Dialect extends Headings {
	separator: Separator;
	decimal: Decimal;
	/** What groups the digits before the decimal sign; empty: nothing does. */
	thousands: string;
	/** Numbers could be read with the other decimal sign just as well. */
	decimalGuessed: boolean;
	/** Index of the first data line among the lines given. */
	firstRow: number;
	timeKind: TimeKind;
	/** Texts of the time column in the rows looked at. */
	times: string[];
}

/** More columns than any recording has. */
const MOST_CELLS = 10_000;

const CANDIDATES: [Separator, Decimal][] = [
	[',', '.'],
	[';', '.'],
	[';', ','],
	['\t', '.'],
	['\t', ','],
	['|', '.'],
	['|', ','],
	[' ', '.'],
	[' ', ',']
];

interface Found {
	/** Index of the first data row, and how many there are from there on. */
	first: number;
	rows: number;
	/** Rows in which every cell makes sense. */
	clean: number;
	width: number;
	numbers: NumberForm;
	cells: string[][];
}

/** Ways of writing rows that what was said leaves open. */
function candidates({ separator, decimal }: ReadSettings): [Separator, Decimal][] {
	if (separator !== undefined && decimal !== undefined) return [[separator, decimal]];
	const open = CANDIDATES.filter(([s, d]) => (separator ?? s) === s && (decimal ?? d) === d);
	return open.length > 0 ? open : CANDIDATES.map(([s, d]): [Separator, Decimal] => [separator ?? s, decimal ?? d]);
}

/** More rows that make sense, then more rows, then wider ones. */
function isBetter(a: Found, b: Found, separator: Separator): boolean {
	if (a.clean !== b.clean) return a.clean > b.clean;
	return a.rows > b.rows || (a.rows === b.rows && a.width > b.width && separator !== ' ');
}

/** null when no way of reading the lines gives rows of a time and at least one more value. */
export function findDialect(lines: readonly string[], told: ReadSettings = {}): Dialect | null {
	let best: (Found & { separator: Separator; decimal: Decimal }) | undefined;
	for (const [separator, decimal] of candidates(told)) {
		const found = dataRows(lines, separator, decimal, told);
		if (found && (!best || isBetter(found, best, separator))) best = { ...found, separator, decimal };
	}
	if (!best) return null;
	const { separator, decimal, first, cells, numbers, width } = best;
	const data = cells.slice(first).filter((row) => kindOf(row, numbers) === 'data');
	const said = headings(cells.slice(0, first), data, width, told);
	const times = data.map((row) => row[said.timeColumn] ?? '').filter((cell) => cell !== '');
	return {
		separator,
		decimal,
		thousands: numbers.thousands,
		decimalGuessed: numbers.guessed,
		firstRow: first,
		timeKind: (times[0] !== undefined && timeKind(times[0])) || 'number',
		times,
		...said
	};
}

/** Cells of one line. A cell may stand in quotes, which are dropped; a separator within them separates nothing. */
export function cellsOf(line: string, separator: Separator): string[] {
	const text = line.trim();
	if (!text.includes('"')) return separator === ' ' ? text.split(/ +/) : trimmed(line, separator).split(separator).map(clean);
	const parting = separator === '|' ? '\\|' : separator;
	const quoted =
		separator === ' '
			? /"((?:[^"]|"")*)"|([^ "]+)/g
			: new RegExp(
					`[^\\S${separator === '\t' ? '\\t' : ''}]*(?:"((?:[^"]|"")*)"|([^${parting}]*))[^\\S${separator === '\t' ? '\\t' : ''}]*(?:${parting}|$)`,
					'gy'
				);
	const cells: string[] = [];
	const whole = separator === ' ' ? text : trimmed(line, separator);
	for (let match = quoted.exec(whole); match && cells.length < MOST_CELLS; match = quoted.exec(whole)) {
		cells.push(clean(match[1]?.replaceAll('""', '"') ?? match[2] ?? ''));
		if (quoted.lastIndex >= whole.length) {
			if (separator !== ' ' && whole.endsWith(separator)) cells.push('');
			break;
		}
	}
	return cells;
}

/** Tables drawn with upright strokes have one at either end of a row. */
function trimmed(line: string, separator: Separator): string {
	return separator === '|' ? line.trim().replace(/^\||\|$/g, '') : separator === '\t' ? line.replace(/[\r\n ]+$/, '') : line.trim();
}

function clean(cell: string): string {
	return plainSigns(cell).trim();
}

/** How numbers are written in a file. */
interface NumberForm {
	test: RegExp;
	thousands: string;
	guessed: boolean;
}

/** Grouped digits are only taken for such where some number leaves no other way to read it. */
function numberForm(cells: readonly string[][], decimal: Decimal): NumberForm {
	const [point, groups] = decimal === '.' ? ['\\.', [',', "'", ' ']] : [',', ['.', "'", ' ']];
	const some = (test: RegExp) => cells.some((row) => row.some((cell) => test.test(cell)));
	const thousands = groups.find((mark) => {
		const group = mark === '.' ? '\\.' : mark;
		return some(new RegExp(`^[+-]?\\d{1,3}(${group}\\d{3}){2,}(${point}\\d*)?$|^[+-]?\\d{1,3}(${group}\\d{3})+${point}\\d+$`));
	});
	const form = formOf(decimal, thousands ?? '');
	const { test } = form;
	const either = new RegExp(`^[+-]?\\d{1,3}(${point}\\d{3})+$`);
	const fractions = cells.flat().filter((cell) => cell.includes(decimal) && test.test(cell));
	return {
		...form,
		guessed: decimal === ',' && fractions.length > 0 && fractions.every((cell) => either.test(cell) && !cell.startsWith('0'))
	};
}

function formOf(decimal: Decimal, thousands: string): NumberForm {
	const point = decimal === '.' ? '\\.' : ',';
	const group = thousands === '.' ? '\\.' : thousands;
	const whole = thousands ? `(?:\\d{1,3}(?:${group}\\d{3})+|\\d+)` : '\\d+';
	return { test: new RegExp(`^[+-]?(?:${whole}(?:${point}\\d*)?|${point}\\d+)(?:[eE][+-]?\\d+)?$`), thousands, guessed: false };
}

/** The rows of data among the lines: those of the width that most have, the headings before them left out. */
function dataRows(lines: readonly string[], separator: Separator, decimal: Decimal, told: ReadSettings): Found | null {
	const cells = lines.map((line) => cellsOf(line, separator));
	const numbers = told.thousands === undefined ? numberForm(cells, decimal) : formOf(decimal, told.thousands);
	const from = (told.firstRow ?? 1) - 1;
	// Lines above the row that was said to be the first are words, whatever they look like.
	const kinds = cells.map((row, i) => (i < from && kindOf(row, numbers) !== 'empty' ? 'words' : kindOf(row, numbers)));
	const widths = new Map<number, number>();
	kinds.forEach((kind, i) => kind === 'data' && widths.set(widthOf(cells[i]), (widths.get(widthOf(cells[i])) ?? 0) + 1));
	if (widths.size === 0) return null;
	// A row may leave out what has not changed: the widest that a tenth of the rows have is the width of all.
	const total = [...widths.values()].reduce((sum, count) => sum + count, 0);
	const width = Math.max(...[...widths].filter(([, count]) => count >= total / 10).map(([wide]) => wide));
	const fits = (i: number) => kinds[i] === 'data' && widthOf(cells[i]) <= width;
	let first = kinds.findIndex((_, i) => fits(i) && (widthOf(cells[i]) === width || kinds.slice(0, i).every((kind) => kind !== 'words')));
	if (first < 0) first = kinds.findIndex((_, i) => fits(i));
	// Numbers above a line of headings are part of the preamble.
	const behind =
		told.firstRow !== undefined
			? -1
			: kinds.findLastIndex((kind, i) => kind === 'words' && isHeading(cells[i], width) && i > first && !repeats(cells, i));
	if (behind > 0 && kinds.slice(behind).filter((kind) => kind === 'data').length > behind - first) {
		const next = kinds.findIndex((_, i) => i > behind && fits(i));
		if (next > 0) first = next;
	}
	const rows = cells.filter((_, i) => i >= first && fits(i));
	const clean = rows.filter((row) => row.every((cell) => cell === '' || isValue(cell, numbers))).length;
	return { first, rows: rows.length, clean, width, numbers, cells };
}

/** Does a line of words name columns? */
function isHeading(row: readonly string[], width: number): boolean {
	return row.length >= width && row.filter((cell) => cell !== '' && !/^[\d+-]/.test(cell)).length >= Math.max(2, width / 2);
}

function repeats(cells: readonly string[][], at: number): boolean {
	const text = cells[at].join('\0');
	return cells.slice(0, at).some((row) => row.join('\0') === text);
}

function widthOf(row: readonly string[]): number {
	let width = row.length;
	while (width > 2 && row[width - 1] === '') width--;
	return width;
}

/** A row of data begins with a number or a moment and goes on with values, or with cells left empty because nothing changed. */
function kindOf(row: readonly string[], numbers: NumberForm): 'data' | 'words' | 'empty' {
	if (row.every((cell) => cell === '')) return 'empty';
	const [first, ...rest] = row;
	const moment = timeKind(first) !== undefined;
	if (!moment && !numbers.test.test(first) && !isMeasured(first, numbers)) return 'words';
	const values = rest.filter((cell) => cell !== '');
	if (rest.length === 0 || (values.length === 0 && rest.length < 2)) return 'words';
	const good = values.filter((cell) => isValue(cell, numbers));
	return good.length * 2 >= values.length ? 'data' : 'words';
}

function isValue(cell: string, numbers: NumberForm): boolean {
	return numbers.test.test(cell) || isMeasured(cell, numbers) || levelWord(cell) !== undefined || timeKind(cell) !== undefined;
}

function isMeasured(cell: string, numbers: NumberForm): boolean {
	const found = withUnit(cell);
	return found !== undefined && numbers.test.test(found.number);
}
