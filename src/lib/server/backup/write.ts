import { and, asc, eq, inArray, isNull, ne, sql, type SQL } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { createGzip } from 'node:zlib';
import tar from 'tar-stream';
import { PLAN_VERSION } from '../../../core/plan/index.js';
import { log } from '../log.js';
import { db, type Db } from '../store/db.js';
import { chunks, lines, parts, pieces, plans, recordings, revisions, samples } from '../store/tables.js';
import { reasonOf } from '../store/trouble.js';
import { ARCHIVE_FORMAT, ENTRY_LENGTH, FIRST, LAST, PARTS, planFolder, SUM, summed, type Ending, type PlanTable } from './contents.js';
import { writeRow } from './rows.js';

type Tx = Pick<Db, 'select'>;

/** Rows with bytes that are read at a time. */
const PAGE = 32;

/** Only one is made at a time: each holds a connection for as long as its reader takes. */
let busy = false;

/** Another archive is being made. */
export class Busy extends Error {}

/** All plans and own profiles, or one plan, as an archive that is written while it is read. Throws Busy. */
export function writeArchive(only?: string): Readable {
	if (busy) throw new Busy('a backup is being made already');
	busy = true;
	const pack = tar.pack();
	const packed = createGzip({ level: 1 });
	pack.pipe(packed as never);
	pack.on('error', (error) => packed.destroy(error));
	packed.on('close', () => pack.destroy());
	fill(new Entries(pack), only)
		.then(() => pack.finalize())
		.catch((error: unknown) => {
			if (!packed.destroyed) log.warn(reasonOf(error), 'a backup was broken off');
			packed.destroy(error instanceof Error ? error : new Error(String(error)));
		})
		.finally(() => (busy = false));
	return packed;
}

async function fill(entries: Entries, only: string | undefined): Promise<void> {
	await entries.json(FIRST, { format: ARCHIVE_FORMAT, plans: PLAN_VERSION, made: new Date().toISOString() });
	const ending: Ending = { plans: 0, parts: 0 };
	if (only === undefined) {
		const own = await db().select().from(parts).where(isNull(parts.deletedAt)).orderBy(asc(parts.createdAt));
		ending.parts = own.length;
		await entries.rows(`${PARTS}parts`, parts, own);
		await entries.seal(PARTS);
	}
	const ids = await db()
		.select({ id: plans.id })
		.from(plans)
		.where(and(isNull(plans.deletedAt), only === undefined ? undefined : eq(plans.id, only)))
		.orderBy(asc(plans.createdAt));
	for (const { id } of ids) ending.plans += await writePlan(entries, id);
	await entries.json(LAST, ending);
}

/** One plan as it is at one moment. Returns how many that are: none where it was deleted meanwhile. */
async function writePlan(entries: Entries, id: string): Promise<number> {
	return db().transaction(
		async (tx) => {
			// Whoever reads the archive may take its time.
			await tx.execute(sql`set local idle_in_transaction_session_timeout = '10min'`);
			const [plan] = await tx.select().from(plans).where(eq(plans.id, id));
			if (!plan || plan.deletedAt) return 0;
			const of = (table: PlanTable) => `${planFolder(id)}${table}`;
			await entries.rows(of('plans'), plans, [plan]);
			await entries.rows(
				of('revisions'),
				revisions,
				await tx.select().from(revisions).where(eq(revisions.planId, id)).orderBy(asc(revisions.number))
			);
			const owned = await tx
				.select()
				.from(recordings)
				.where(and(eq(recordings.planId, id), isNull(recordings.deletedAt), ne(recordings.state, 'sending')))
				.orderBy(asc(recordings.createdAt));
			// What is just being read is read anew where it comes to.
			const still = owned.map((row) => ({
				...row,
				state: row.state === 'reading' ? ('waiting' as const) : row.state,
				claim: null,
				arriving: null
			}));
			await entries.rows(of('recordings'), recordings, still);
			const shown = await tx
				.select({ line: lines })
				.from(lines)
				.innerJoin(recordings, and(eq(lines.recordingId, recordings.id), eq(lines.generation, recordings.generation)))
				.where(inArray(recordings.id, [...owned.map((one) => one.id), '']));
			await entries.rows(
				of('lines'),
				lines,
				shown.map(({ line }) => line)
			);
			for (const { id: recording, generation } of owned) {
				const here = (table: typeof chunks | typeof samples) => and(eq(table.recordingId, recording), eq(table.generation, generation));
				await writePaged(entries, of('chunks'), tx, chunks, here(chunks)!, ['line', 'number']);
				await writePaged(entries, of('samples'), tx, samples, here(samples)!, ['line', 'number']);
				await writePaged(entries, of('pieces'), tx, pieces, eq(pieces.recordingId, recording), ['number']);
			}
			await entries.seal(planFolder(id));
			return 1;
		},
		{ isolationLevel: 'repeatable read', accessMode: 'read only' }
	);
}

/** Rows that hold bytes, a page at a time in the order of the key's columns. */
async function writePaged(entries: Entries, name: string, tx: Tx, table: PgTable, where: SQL, key: string[]): Promise<void> {
	const columns = table as unknown as Record<string, typeof chunks.line>;
	const order = key.map((column) => asc(columns[column]));
	const named = sql.join(
		key.map((column) => sql`${columns[column]}`),
		sql`, `
	);
	for (let last: unknown[] | undefined; ;) {
		const after =
			last &&
			sql`(${named}) > (${sql.join(
				last.map((value) => sql`${value}::integer`),
				sql`, `
			)})`;
		const page: Record<string, unknown>[] = await tx
			.select()
			.from(table)
			.where(and(where, after))
			.orderBy(...order)
			.limit(PAGE);
		if (page.length > 0) await entries.rows(name, table, page);
		if (page.length < PAGE) return;
		last = key.map((column) => page[page.length - 1][column]);
	}
}

/** Entries of a tar file, each written when its reader has room for it. */
class Entries {
	private readonly counts = new Map<string, number>();
	private sum = createHash('sha256');

	constructor(private readonly pack: tar.Pack) {}

	json(name: string, value: unknown): Promise<void> {
		return this.put(name, `${JSON.stringify(value, null, '\t')}\n`);
	}

	/** Ends a folder with the checksum of what was put there. */
	async seal(folder: string): Promise<void> {
		const sha256 = this.sum.digest('hex');
		this.sum = createHash('sha256');
		await this.json(folder + SUM, { sha256 });
	}

	/** Rows of a table as entries of a bearable size. */
	async rows(name: string, table: PgTable, rows: readonly Record<string, unknown>[]): Promise<void> {
		let text = '';
		const flush = async () => {
			if (text === '') return;
			const number = (this.counts.get(name) ?? 0) + 1;
			this.counts.set(name, number);
			const entry = `${name}-${number}.ndjson`;
			this.sum.update(summed(entry, text));
			await this.put(entry, text);
			text = '';
		};
		for (const row of rows) {
			text += `${JSON.stringify(writeRow(table, row))}\n`;
			if (text.length > ENTRY_LENGTH) await flush();
		}
		await flush();
	}

	private put(name: string, text: string): Promise<void> {
		return new Promise((done, fail) => {
			if (this.pack.destroyed) throw new Error('whoever reads the archive has gone');
			this.pack.entry({ name, mtime: new Date() }, Buffer.from(text), (error) => (error ? fail(error) : done()));
		});
	}
}
