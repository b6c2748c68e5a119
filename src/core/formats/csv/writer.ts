import type { Seconds } from '../../exact/index.js';
import { edgesWithin, mergedEdges, picoseconds, type EdgeLine } from '../edges.js';

/**
 * Writes levels as rows of a list of edges, piece by piece: a time in seconds, rounded once to a picosecond, and the level
 * of every line from then on; x for unknown. `from` and `to` in seconds, the latter excluded. `heading`: what the column of times is called.
 */
export function* edgePieces(lines: readonly EdgeLine[], from: Seconds, to: Seconds, heading: string): Generator<string, void> {
	const ends = lines.map(({ source }) => edgesWithin(source, from, to));
	const levels = lines.map(({ source }, i) => source.levelAfter(ends[i][0]));
	const row = (time: string) => `${time},${levels.map((level) => (level === 2 ? 'x' : String(level))).join(',')}\n`;
	yield `${csvRow([heading, ...lines.map(({ name }) => name)])}\n`;
	let at: bigint | undefined;
	let waiting = row(picosecondsText(picoseconds(from)));
	for (const { time, line, level } of mergedEdges(lines, ends)) {
		if (time !== at) {
			yield waiting;
			at = time;
		}
		levels[line] = level;
		waiting = row(picosecondsText(time));
	}
	yield waiting;
}

/** Numbers and fractions are what they are, whatever sign they begin with. */
const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?(\/\d+)?$/;
/** What a spreadsheet would take for the beginning of a formula, blanks before it or not. */
const FORMULA = /^\s*[=+\-@|%\t\r\n\uff1d\uff0b\uff0d\uff20]/;

/** A row of cells: quoted where they hold what parts cells, and with an apostrophe where a spreadsheet would work them out as a formula. */
export function csvRow(cells: readonly (string | number)[]): string {
	return cells.map((cell) => csvCell(String(cell))).join(',');
}

function csvCell(text: string): string {
	const safe = FORMULA.test(text) && !NUMBER.test(text) ? `'${text}` : text;
	return /[",;\n\r\t]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

/** Whole picoseconds as a decimal number of seconds without trailing zeros. */
function picosecondsText(time: bigint): string {
	const digits = time.toString().padStart(13, '0');
	const part = digits.slice(-12).replace(/0+$/, '');
	return part === '' ? digits.slice(0, -12) : `${digits.slice(0, -12)}.${part}`;
}
