import type { PgTable } from 'drizzle-orm/pg-core';
import { chunks, lines, onceDone, parts, pieces, plans, recordings, revisions, samples } from '../store/tables.js';

/**
 * What an archive holds: a tar file, packed with gzip, of `nolvet.json` (its format), `parts/N.ndjson` (rows of own profiles), for each plan
 * `plans/ID/TABLE-N.ndjson` with the rows of every table that belongs to it, in this order, and at the end `end.json` with what it should
 * hold. Rows are JSON, one a line (rows.ts).
 */
export const ARCHIVE_FORMAT = 1;
export const FIRST = 'nolvet.json';
export const LAST = 'end.json';
export const PARTS = 'parts';

/** Tables of a plan, each after those that it refers to. */
export const PLAN_TABLES = { plans, revisions, recordings, lines, chunks, samples, pieces } satisfies Record<string, PgTable>;
export type PlanTable = keyof typeof PLAN_TABLES;

/** Tables that no archive holds: what was done once for this database. */
export const LEFT_OUT: PgTable[] = [onceDone];
export const OWN_TABLES = { parts } satisfies Record<string, PgTable>;

/** Bytes of rows in one entry, and rows that are asked for at a time. */
export const ENTRY_BYTES = 4_000_000;
export const LARGEST_ENTRY = 128_000_000;

export interface Ending {
	plans: number;
	parts: number;
}
