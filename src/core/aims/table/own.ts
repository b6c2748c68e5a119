import { Rational, readQuantity, type Seconds } from '../../exact/index.js';
import { MOST_TABLE_ROWS } from '../../timer/index.js';
import { readRate } from '../common/fields.js';
import type { TableAim } from './schema.js';

/** A row of an own shape: a value of -1 to 1 an output, and its period where it has one of its own. */
export interface OwnRow {
	values: Rational[];
	period: Seconds | undefined;
}

/** The rows of a pasted shape, no more than one over the limit; or the first line, from 1 on, that makes no sense. */
export type OwnRows = { rows: OwnRow[] } | { unread: number };

/** Numbers of -1 to 1 or percents, a row a line, one column an output; a cell with a time or a rate is the row's period. Commas, semicolons or tabs part the columns; the first line may be a heading. */
export function readOwn(text: string): OwnRows {
	const rows: OwnRow[] = [];
	for (const [i, line] of text.split(/\r\n|\n|\r/).entries()) {
		const cells = line.trim();
		if (cells === '' || cells.startsWith('#')) continue;
		const row = rowOf(cells);
		if (!row && i > 0) return { unread: i + 1 };
		if (row) rows.push(row);
		if (rows.length > MOST_TABLE_ROWS) break;
	}
	return { rows };
}

function rowOf(line: string): OwnRow | undefined {
	const row: OwnRow = { values: [], period: undefined };
	for (const cell of line.split(/\s*[,;\t]\s*/)) {
		if (cell === '') continue;
		const read = readQuantity(cell);
		if (read.ok && ['number', 'ratio'].includes(read.quantity.dimension)) row.values.push(read.quantity.value);
		else {
			const time = readRate(cell);
			if (!time.ok || row.period) return undefined;
			row.period = time.value.inverse();
		}
	}
	return row.values.length > 0 ? row : undefined;
}

/** By the aim, which never changes: every aim on its timer asks. */
const known = new WeakMap<TableAim, boolean>();

/** Does a row of the shape set the timer's period? */
export function movesPeriod(aim: TableAim): boolean {
	if (aim.shape !== 'own') return false;
	const found = known.get(aim) ?? someTimed(readOwn(aim.own));
	known.set(aim, found);
	return found;
}

function someTimed(own: OwnRows): boolean {
	return 'rows' in own && own.rows.some(({ period }) => period !== undefined);
}

/** The own shape at a share of its period, on straight lines between its values. */
export function ownAt(own: readonly OwnRow[], share: Rational, column: number): Rational {
	const place = share.mul(Rational.int(own.length));
	const at = Number(place.floor()) % own.length;
	const rest = place.sub(Rational.of(place.floor()));
	const value = own[at].values[column];
	return value.add(own[(at + 1) % own.length].values[column].sub(value).mul(rest));
}

/** Outputs that an own shape has columns for, behind the first; none for any other. */
export function furtherOf({ shape, further }: TableAim): string[] {
	return shape === 'own' ? further : [];
}

/** Channels of all outputs, the first first. */
export function outputsOf(aim: TableAim): string[] {
	return [aim.channel, ...(aim.second === '' ? [] : [aim.second]), ...furtherOf(aim)];
}
