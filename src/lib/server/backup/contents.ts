import type { PgTable } from 'drizzle-orm/pg-core';
import { checks, chunks, lines, onceDone, parts, pieces, plans, recordings, revisions, samples } from '../store/tables.js';

/**
 * What an archive holds: a tar file, packed with gzip, of `nolvet.json` (its format), `parts/parts-N.ndjson` (rows of own profiles), for each
 * plan `plans/ID/TABLE-N.ndjson` with the rows of every table that belongs to it, in this order, and at the end `end.json` with what it should
 * hold. Rows are JSON, one a line (rows.ts). The last entry of a plan, and of the parts, is `sum.json`, the SHA-256 of the others: of an
 * archive that was cut off or damaged only what is whole is taken.
 */
export const ARCHIVE_FORMAT = 1;
export const FIRST = 'nolvet.json';
export const LAST = 'end.json';
export const PARTS = 'parts/';
export const SUM = 'sum.json';

/** Tables of a plan, each after those that it refers to. */
export const PLAN_TABLES = { plans, revisions, recordings, lines, chunks, samples, pieces } satisfies Record<string, PgTable>;
export type PlanTable = keyof typeof PLAN_TABLES;

/** Tables that no archive holds: what was done once for this database, and past checks, which plan and recordings give again. */
export const LEFT_OUT: PgTable[] = [onceDone, checks];
export const OWN_TABLES = { parts } satisfies Record<string, PgTable>;

/** Characters of rows after which an entry is full, and bytes of the largest that is read. */
export const ENTRY_LENGTH = 4_000_000;
export const LARGEST_ENTRY = 128_000_000;

export interface Ending {
	plans: number;
	parts: number;
}

/** What the checksum of a plan, or of the parts, is made of, entry by entry. */
export function summed(name: string, text: string): string {
	return `${name}\n${text}`;
}

/** Where the entries of a plan lie. */
export function planFolder(id: string): string {
	return `plans/${id}/`;
}
