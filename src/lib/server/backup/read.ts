import equal from 'fast-deep-equal';
import { eq, sql } from 'drizzle-orm';
import { createHash, randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import tar from 'tar-stream';
import { z } from 'zod';
import { Rational } from '../../../core/exact/index.js';
import { PlanError, stepSchema, upgradeStep, type Step } from '../../../core/plan/index.js';
import { unpackChunks, unpackSamples } from '../../../core/trace/index.js';
import type { Fate, Taken } from '../../text/archive.js';
import { documentsText } from '../../text/index.js';
import { bringUp } from '../plans/bringUp.js';
import { EMPTY } from '../plans/summary.js';
import { db, type Db } from '../store/db.js';
import { parts, plans, recordings, revisions } from '../store/tables.js';
import {
	ARCHIVE_FORMAT,
	FIRST,
	LARGEST_ENTRY,
	LAST,
	PARTS,
	PLAN_TABLES,
	planFolder,
	SUM,
	summed,
	type Ending,
	type PlanTable
} from './contents.js';
import { readRow, RowError } from './rows.js';

type Tx = Parameters<Parameters<Db['transaction']>[0]>[0];

/** An archive that is none, or of which the end is missing. What was told before was taken whole. */
export class ArchiveError extends Error {}

const CUT = 'the archive is cut off: what came before the cut is here, the rest is missing';
const DAMAGED = 'it is not packed with gzip, or damaged: what came before is here, the rest is missing';

interface Entry {
	name: string;
	text: string;
}

/** Takes in an archive, each plan with all that belongs to it or not at all; tells of each. Throws ArchiveError. */
export async function* readArchive(source: Readable): AsyncGenerator<Taken> {
	const entries = new Ahead(entriesOf(source));
	const first = await entries.take();
	if (first?.name !== FIRST) throw new ArchiveError('this is no archive of Nolvet: it does not begin with nolvet.json');
	const { format } = parsed(z.object({ format: z.number() }), first);
	if (format > ARCHIVE_FORMAT)
		throw new ArchiveError(`the archive’s format ${format} is newer than the ${ARCHIVE_FORMAT} that is known here`);
	const seen: Ending = { plans: 0, parts: 0 };
	for (;;) {
		const entry = await entries.peek();
		if (!entry) throw new ArchiveError(CUT);
		if (entry.name === LAST) {
			const told = parsed(z.object({ plans: z.number(), parts: z.number() }), entry);
			if (!equal(told, seen))
				throw new ArchiveError(
					`the archive should hold ${told.plans} plans and ${told.parts} parts, and held ${seen.plans} and ${seen.parts}`
				);
			return;
		}
		const plan = /^plans\/([^/]{1,200})\//.exec(entry.name)?.[1];
		if (plan !== undefined) {
			seen.plans++;
			yield await takePlan(new Folder(entries, planFolder(plan)), plan);
		} else if (entry.name.startsWith(PARTS)) {
			for (const row of await partRows(new Folder(entries, PARTS))) {
				seen.parts++;
				yield await takePart(row);
			}
		} else throw new ArchiveError(`“${entry.name.slice(0, 80)}” has no place in an archive`);
	}
}

/** Takes one plan; one that is refused is passed over to its end. */
async function takePlan(folder: Folder, id: string): Promise<Taken> {
	let name = id;
	try {
		const head: Head = { plans: [], revisions: [], recordings: [] };
		let entry = await folder.take();
		for (; entry; entry = await folder.take()) {
			const table = tableOf(entry);
			if (!Object.hasOwn(head, table)) break;
			for (const row of rowsOf(entry)) head[table as keyof Head].push(readRow(PLAN_TABLES[table], row) as never);
		}
		const plan = head.plans.at(0);
		if (!plan || head.plans.length > 1 || plan.id !== id) throw new RowError('the plan’s own row is missing');
		name = nameOf(plan.document);
		head.revisions.forEach(checkStep);
		head.recordings.forEach(checkRecording);
		if ([...head.revisions, ...head.recordings].some(({ planId }) => planId !== id)) throw new RowError('a row belongs to another plan');
		return await db().transaction(async (tx) => {
			const taking = await PlanTaking.begin(tx, plan, head);
			for (; entry; entry = await folder.take()) await taking.rows(tx, tableOf(entry), [...rowsOf(entry)]);
			folder.check();
			if (taking.fate !== 'here') await bringUp(tx, taking.id);
			const recordings = taking.recordings.size;
			return { what: 'plan' as const, name, fate: taking.fate, ...(recordings > 0 && { recordings }) };
		});
	} catch (error) {
		const reason = reasonOfRow(error);
		if (reason === undefined) throw error;
		await folder.pass();
		return { what: 'plan', name, fate: 'refused', reason };
	}
}

type PlanRow = typeof plans.$inferInsert;
type StepRow = typeof revisions.$inferInsert;
type RecordingRow = typeof recordings.$inferInsert;

/** What says what is to be done with a plan: all of it stands before its lines and edges. */
interface Head {
	plans: PlanRow[];
	revisions: StepRow[];
	recordings: RecordingRow[];
}

/** One plan on its way in. */
class PlanTaking {
	/** What recordings of the archive are called here, and the number of their import; those that are here already are not in it. */
	readonly recordings = new Map<string, { id: string; generation: number }>();

	private constructor(
		/** The plan's id here. */
		readonly id: string,
		readonly fate: Fate
	) {}

	/** Stores the plan with its history and the frames of its recordings, as far as they are not here. */
	static async begin(tx: Tx, plan: PlanRow, head: Head): Promise<PlanTaking> {
		const [here] = await tx.select().from(plans).where(eq(plans.id, plan.id)).for('update');
		const fate = here ? await fateBeside(tx, plan, head.revisions, here.revision) : 'taken';
		const taking = new PlanTaking(fate === 'beside' ? randomUUID() : plan.id, fate);
		if (here?.deletedAt && fate !== 'beside') await tx.update(plans).set({ deletedAt: null }).where(eq(plans.id, plan.id));
		const fresh: RecordingRow[] = [];
		for (const row of head.recordings) {
			const own = await taking.recording(tx, row);
			if (own) fresh.push({ ...row, ...own, planId: taking.id, deletedAt: null });
		}
		if (fate !== 'here') await taking.store(tx, plan, head.revisions, here?.revision ?? 0);
		if (fresh.length > 0) await tx.insert(recordings).values(fresh);
		return taking;
	}

	/** What a recording is called here; undefined: it is here. */
	private async recording(tx: Tx, { id, generation }: RecordingRow): Promise<{ id: string; generation: number } | undefined> {
		const [here] = await tx.select({ planId: recordings.planId }).from(recordings).where(eq(recordings.id, id));
		if (here?.planId === this.id) {
			await tx.update(recordings).set({ deletedAt: null }).where(eq(recordings.id, id));
			return undefined;
		}
		// Numbers of imports are this database's own.
		const { rows } = await tx.execute<{ next: string }>(sql`select nextval('generations') as next`);
		const own = { id: here || this.fate === 'beside' ? randomUUID() : id, generation: generation ? Number(rows[0].next) : 0 };
		this.recordings.set(id, own);
		return own;
	}

	/** `known`: the number of the newest revision that is here. */
	private async store(tx: Tx, plan: PlanRow, steps: readonly StepRow[], known: number): Promise<void> {
		const document = this.renamed(plan.document);
		const summary = { ...EMPTY, name: nameOf(document), revision: 0, build: '' };
		const { revision, savedAt } = plan;
		if (this.fate === 'newer') await tx.update(plans).set({ document, revision, summary, savedAt }).where(eq(plans.id, this.id));
		else await tx.insert(plans).values({ ...plan, id: this.id, document, summary, deletedAt: null });
		const fresh = steps
			.filter(({ number }) => this.fate !== 'newer' || number > known)
			.map((row) => ({ ...row, planId: this.id, step: this.renamed(row.step) }));
		for (let i = 0; i < fresh.length; i += 1000) await tx.insert(revisions).values(fresh.slice(i, i + 1000));
	}

	/** Lines, edges, samples and files of those recordings that are taken. */
	async rows(tx: Tx, table: PlanTable, rows: unknown[]): Promise<void> {
		if (Object.hasOwn({ plans, revisions, recordings }, table)) throw new RowError('what belongs to its head stands behind it');
		const kept = rows.flatMap((one) => {
			const row = readRow(PLAN_TABLES[table], one);
			const own = this.recordings.get(row.recordingId as string);
			if (!own) return [];
			checkBytes(table, row);
			return [{ ...row, recordingId: own.id, ...(table !== 'pieces' && { generation: own.generation }) }];
		});
		if (kept.length > 0) await tx.insert(PLAN_TABLES[table]).values(kept);
	}

	/** Ids of recordings replaced by those that stand here for them. */
	private renamed<T>(value: T): T {
		const others = [...this.recordings].filter(([id, own]) => id !== own.id);
		const text = (id: string) => JSON.stringify(id);
		return others.length === 0
			? value
			: (JSON.parse(others.reduce((all, [id, own]) => all.replaceAll(text(id), text(own.id)), JSON.stringify(value))) as T);
	}
}

/** What becomes of a plan beside the one of its id that is here at a revision: the same history goes on, another stands beside it. */
async function fateBeside(tx: Tx, plan: PlanRow, steps: readonly StepRow[], revision: number): Promise<Fate> {
	const rows = await tx.select({ number: revisions.number, step: revisions.step }).from(revisions).where(eq(revisions.planId, plan.id));
	const here = new Map(rows.map(({ number, step }) => [number, step]));
	const both = steps.filter(({ number }) => number <= revision);
	if (both.some(({ number, step }) => !equal(upgraded(step), upgraded(here.get(number))))) return 'beside';
	return plan.revision > revision ? 'newer' : 'here';
}

const stepKind = z.enum(['edit', 'undo', 'redo']);

function checkStep({ kind, number, step }: StepRow): void {
	if (!stepKind.safeParse(kind).success || !stepSchema.safeParse(upgraded(step)).success)
		throw new RowError(`step ${number} of its history is none`);
}

function checkRecording({ unit, resolution }: RecordingRow): void {
	for (const ratio of [unit, resolution]) if (!isRatio(ratio)) throw new RowError(`“${ratio.slice(0, 40)}” is no unit of time`);
}

function upgraded(step: Step | undefined): Step | undefined {
	try {
		return step && upgradeStep(step);
	} catch {
		throw new RowError('a step of its history is none');
	}
}

/** Edges and samples must be what they say, or the bench would stumble over them later. */
function checkBytes(table: PlanTable, row: Record<string, unknown>): void {
	try {
		if (table === 'chunks') {
			const [chunk, ...more] = unpackChunks(row.packed as Buffer);
			if (more.length > 0 || chunk.offsets.length !== row.count) throw new RangeError('edges are missing');
		}
		if (table === 'samples') unpackSamples(row.packed as Buffer);
	} catch (error) {
		throw new RowError(`a recording is damaged: ${error instanceof Error ? error.message : ''}`);
	}
}

function isRatio(text: string): boolean {
	try {
		return Rational.parse(text).sign > 0;
	} catch {
		return false;
	}
}

function nameOf(document: unknown): string {
	const { name } = (document ?? {}) as { name?: unknown };
	return typeof name === 'string' ? name.slice(0, 200) : 'a plan without a name';
}

/** The rows of all parts of an archive; none where their checksum is another. */
async function partRows(folder: Folder): Promise<unknown[]> {
	const rows: unknown[] = [];
	try {
		for (let entry = await folder.take(); entry; entry = await folder.take()) rows.push(...rowsOf(entry));
		folder.check();
	} catch (error) {
		throw error instanceof RowError ? new ArchiveError(`its parts: ${error.message}`, { cause: error }) : error;
	}
	return rows;
}

async function takePart(written: unknown): Promise<Taken> {
	let name = 'a part';
	try {
		const row = readRow(parts, written) as typeof parts.$inferInsert;
		name = partName(row.text) ?? row.id;
		const [here] = await db().select().from(parts).where(eq(parts.id, row.id));
		if (here?.text === row.text) {
			if (here.deletedAt) await db().update(parts).set({ deletedAt: null }).where(eq(parts.id, row.id));
			return { what: 'part', name, fate: 'here' };
		}
		await db()
			.insert(parts)
			.values({ ...row, summary: null, deletedAt: null, ...(here && { id: randomUUID() }) });
		return { what: 'part', name, fate: here ? 'beside' : 'taken' };
	} catch (error) {
		const reason = reasonOfRow(error);
		if (reason === undefined) throw error;
		return { what: 'part', name, fate: 'refused', reason };
	}
}

function partName(text: string): string | undefined {
	try {
		const { name } = JSON.parse(text) as { name?: unknown };
		return typeof name === 'string' ? name.slice(0, 200) : undefined;
	} catch {
		return undefined;
	}
}

/** Why a row is not taken, where that is the archive's fault. */
function reasonOfRow(error: unknown): string | undefined {
	if (error instanceof RowError) return error.message;
	if (error instanceof PlanError) return documentsText(error.findings);
	// What PostgreSQL refuses as data (22) or as against a rule of the tables (23).
	const { cause } = error as { cause?: unknown };
	const { code } = (cause ?? error) as { code?: unknown };
	return typeof code === 'string' && /^2[23]/.test(code) ? 'a row does not fit in its table' : undefined;
}

function tableOf({ name }: Entry): PlanTable {
	const table = /\/([a-z]+)-\d+\.ndjson$/.exec(name)?.[1];
	if (table === undefined || !Object.hasOwn(PLAN_TABLES, table))
		throw new ArchiveError(`“${name.slice(0, 80)}” has no place in an archive`);
	return table as PlanTable;
}

function* rowsOf({ name, text }: Entry): Generator<unknown> {
	for (const line of text.split('\n')) {
		if (line === '') continue;
		try {
			yield JSON.parse(line) as unknown;
		} catch {
			throw new RowError(`“${name.slice(0, 80)}” holds a line that is no JSON`);
		}
	}
}

function parsed<T>(schema: z.ZodType<T>, { name, text }: Entry): T {
	try {
		return schema.parse(JSON.parse(text));
	} catch {
		throw new ArchiveError(`${name} is not what it should be`);
	}
}

/** The entries of an archive, one after the other. */
async function* entriesOf(source: Readable): AsyncGenerator<Entry> {
	const extract = tar.extract();
	const unpacked = createGunzip();
	const fail = (error: Error) => extract.destroy(error);
	source.on('error', fail);
	unpacked.on('error', fail);
	source.pipe(unpacked).pipe(extract as never);
	try {
		for await (const entry of extract) {
			const { name, size = 0 } = entry.header;
			if (size > LARGEST_ENTRY) throw new ArchiveError(`“${name.slice(0, 80)}” is larger than an entry may be`);
			const pieces: Buffer[] = [];
			for await (const piece of entry) pieces.push(piece as Buffer);
			yield { name, text: Buffer.concat(pieces).toString('utf8') };
		}
	} catch (error) {
		if (error instanceof ArchiveError) throw error;
		const { code, message } = error as { code?: string; message: string };
		if (code === 'Z_BUF_ERROR' || /unexpected end/i.test(message)) return;
		throw new ArchiveError(code?.startsWith('Z_') ? DAMAGED : `it is no tar file, or damaged: ${message}`, { cause: error });
	} finally {
		source.destroy();
	}
}

/** Entries with a look at the next one. */
class Ahead {
	private next: Promise<IteratorResult<Entry, unknown>> | undefined;

	constructor(private readonly entries: AsyncGenerator<Entry>) {}

	async peek(): Promise<Entry | undefined> {
		this.next ??= this.entries.next();
		const result = await this.next;
		return result.done ? undefined : result.value;
	}

	async take(): Promise<Entry | undefined> {
		const entry = await this.peek();
		this.next = undefined;
		return entry;
	}
}

/** The entries of a plan, or of the parts: the last of them holds the checksum of the others. */
class Folder {
	private readonly sum = createHash('sha256');
	/** What its last entry says that the checksum is. */
	private told: string | undefined;

	constructor(
		private readonly entries: Ahead,
		private readonly name: string
	) {}

	/** The next one; undefined behind the last. */
	async take(): Promise<Entry | undefined> {
		const next = await this.entries.peek();
		if (this.told !== undefined || !next?.name.startsWith(this.name)) return undefined;
		await this.entries.take();
		if (next.name === this.name + SUM) {
			this.told = parsed(z.object({ sha256: z.string() }), next).sha256;
			return undefined;
		}
		this.sum.update(summed(next.name, next.text));
		return next;
	}

	/** All were taken. Throws ArchiveError where the archive is cut off before the last, RowError where something is damaged. */
	check(): void {
		if (this.told === undefined) throw new ArchiveError(CUT);
		if (this.told !== this.sum.digest('hex')) throw new RowError('it is damaged: its checksum is another');
	}

	/** Passes over what is left. */
	async pass(): Promise<void> {
		while ((await this.entries.peek())?.name.startsWith(this.name)) await this.entries.take();
	}
}
