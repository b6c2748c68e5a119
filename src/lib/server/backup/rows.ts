import { getTableColumns } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import { uncleanAt } from '../../../core/part/index.js';

/** A row as JSON: moments as ISO 8601, bytes in base64. */
export type Written = Record<string, unknown>;

/** A row that does not belong in the table; the message says why. */
export class RowError extends Error {}

/** A row of a table, as drizzle gives it, as JSON. */
export function writeRow(table: PgTable, row: Record<string, unknown>): Written {
	return Object.fromEntries(
		Object.keys(getTableColumns(table)).flatMap((name) => {
			const value = row[name];
			if (value === null || value === undefined) return [];
			if (value instanceof Date) return [[name, value.toISOString()]];
			return [[name, value instanceof Uint8Array ? Buffer.from(value).toString('base64') : value]];
		})
	);
}

/** A row as it can be inserted. Throws RowError on what the table does not take. */
export function readRow(table: PgTable, written: unknown): Record<string, unknown> {
	if (typeof written !== 'object' || written === null || Array.isArray(written)) throw new RowError('a row is an object');
	const columns = getTableColumns(table);
	const row = written as Written;
	const unknown = Object.keys(row).find((name) => !Object.hasOwn(columns, name));
	if (unknown !== undefined) throw new RowError(`“${unknown.slice(0, 60)}” is not known here: the archive may be of a newer Nolvet`);
	const read: Record<string, unknown> = {};
	for (const [name, column] of Object.entries(columns)) {
		const value = row[name];
		if (value === undefined || value === null) {
			if (column.notNull && !column.hasDefault) throw new RowError(`“${name}” is missing`);
			continue;
		}
		read[name] = readValue(name, column.dataType, value);
	}
	return read;
}

function readValue(name: string, type: string, value: unknown): unknown {
	switch (type) {
		case 'string':
		case 'boolean':
		case 'number':
			if (typeof value !== type || Number.isNaN(value)) break;
			if (uncleanAt(value)) break;
			return value;
		case 'json':
			if (uncleanAt(value)) break;
			return value;
		case 'date': {
			const moment = new Date(typeof value === 'string' ? value : NaN);
			if (Number.isNaN(moment.getTime())) break;
			return moment;
		}
		case 'custom':
			if (typeof value !== 'string' || !/^[A-Za-z0-9+/]*={0,2}$/.test(value)) break;
			return Buffer.from(value, 'base64');
	}
	throw new RowError(`“${name}” holds no ${type === 'custom' ? 'bytes' : type === 'date' ? 'moment' : type}`);
}
