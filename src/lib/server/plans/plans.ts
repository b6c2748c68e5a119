import { and, asc, desc, eq, getTableColumns, gt, isNull, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { type Instrument, type LoadedPlan, type Plan, type SavedRevision, type SavedStep, applyStep } from '../../../core/plan/index.js';
import type { LastVerdict, PlanSummary, PlanSummed } from '../../session/listing.js';
import { db, type Db } from '../store/db.js';
import { StaleRevision } from '../store/revision.js';
import { stamped, Summaries } from '../store/summaries.js';
import { checks, chunks, lines, pieces, plans, recordings, revisions, samples } from '../store/tables.js';
import { readStored } from './read.js';
import { EMPTY, summarise } from './summary.js';

/** Steps kept for undo after a reload. */
const HISTORY = 200;

/** All plans that are not put away, newest first. */
export async function listPlans(): Promise<PlanSummary[]> {
	const { id, revision, savedAt, lastVerdict, summary } = plans;
	const rows = await db()
		.select({ id, revision, savedAt, lastVerdict, summary })
		.from(plans)
		.where(isNull(plans.deletedAt))
		.orderBy(desc(plans.savedAt));
	return (await summaries.of(rows)).map(({ row, summed, pending }) => ({
		...summed!,
		id: row.id,
		revision: row.revision,
		verdict: row.lastVerdict,
		savedAt: row.savedAt.toISOString(),
		pending
	}));
}

const summaries = new Summaries(summarised);

/** Works out what is listed of a plan, and keeps it beside the plan unless that has moved on meanwhile. */
async function summarised(id: string): Promise<PlanSummed | undefined> {
	const [row] = await db().select({ revision: plans.revision, document: storedText }).from(plans).where(eq(plans.id, id));
	if (!row) return undefined;
	const made = await summarise(id, row.document);
	const { revision } = row;
	await db()
		.update(plans)
		.set({ summary: stamped(made, revision) })
		.where(and(eq(plans.id, id), eq(plans.revision, revision)));
	return made;
}

/** undefined for an unknown plan; one that was put away is found. Throws PlanError when what is stored is no plan. */
export async function loadPlan(id: string): Promise<LoadedPlan | undefined> {
	const { revision, savedAt } = plans;
	const [row] = await db().select({ revision, savedAt, document: storedText }).from(plans).where(eq(plans.id, id));
	if (!row) return undefined;
	const saved = await db().select().from(revisions).where(eq(revisions.planId, id)).orderBy(desc(revisions.number)).limit(HISTORY);
	const history = saved
		.reverse()
		.map(({ kind, merged, step, stepId }) => ({ kind, merged: merged === 1, step, ...(stepId && { id: stepId }) }));
	return { id, revision: row.revision, savedOn: dayOf(row.savedAt), document: readStored(row.document), history };
}

/** A document as the text that it is stored as. */
const storedText = sql<string>`${plans.document}::text`;

const dayOf = (moment: Date) => moment.toISOString().slice(0, 10);

export async function planExists(id: string): Promise<boolean> {
	return (await planRevision(id)) !== undefined;
}

/** The number of a plan's newest revision; undefined for an unknown plan. */
export async function planRevision(id: string): Promise<number | undefined> {
	return (await db().select({ revision: plans.revision }).from(plans).where(eq(plans.id, id))).at(0)?.revision;
}

/** Instruments of all plans but one, each once, as the plan that was saved last has it. */
export async function shelvedInstruments(but: string): Promise<Instrument[]> {
	const { rows } = await db().execute<{ instrument: Instrument }>(sql`
		select distinct on (one.instrument ->> 'id') one.instrument
		from ${plans}, json_array_elements(case json_typeof(document -> 'instruments') when 'array' then document -> 'instruments' else '[]' end) as one (instrument)
		where deleted_at is null and id <> ${but}
		order by one.instrument ->> 'id', saved_at desc
		limit 500`);
	return rows.map(({ instrument }) => instrument);
}

/** Stores a new plan as revision 1 and returns its id. */
export async function createPlan(from: Plan, on: Pick<Db, 'insert'> = db()): Promise<string> {
	const id = randomUUID();
	// What its file said of an earlier one is not true of this one.
	const { made: _, ...document } = from;
	// Not worked out yet, but called by its name.
	const summary = { ...EMPTY, name: document.name, revision: 0, build: '' };
	await on.insert(plans).values({ id, revision: 1, document, summary });
	summaries.soon(id);
	return id;
}

/**
 * Adds steps to revision `base` of a plan, all or none, and returns the new revision and the day of it. Steps that were stored by an earlier call whose
 * answer was lost are known by their ids and not stored again. Throws StaleRevision when the plan has moved on, StepMismatch or
 * PlanError when a step does not fit; undefined for an unknown plan.
 */
export async function saveSteps(id: string, base: number, steps: readonly SavedStep[]): Promise<SavedRevision | undefined> {
	return db().transaction(async (tx) => {
		const { revision: newest, savedAt: at } = plans;
		const [row] = await tx
			.select({ revision: newest, savedAt: at, document: storedText })
			.from(plans)
			.where(eq(plans.id, id))
			.for('update');
		if (!row) return undefined;
		const known = row.revision === base ? 0 : await storedBefore(tx, id, base, steps);
		if (row.revision !== base + known) throw new StaleRevision(row.revision);
		const fresh = steps.slice(known);
		if (fresh.length === 0) return { revision: row.revision, savedOn: dayOf(row.savedAt) };
		const document = fresh.reduce((doc, { step }) => applyStep(doc, step), readStored(row.document));
		const revision = base + steps.length;
		await tx.insert(revisions).values(
			fresh.map(({ kind, merged, step, id: stepId }, i) => ({
				planId: id,
				number: base + known + i + 1,
				kind,
				merged: merged ? 1 : 0,
				step,
				stepId
			}))
		);
		const [{ savedAt }] = await tx
			.update(plans)
			.set({ document, revision, savedAt: sql`now()` })
			.where(eq(plans.id, id))
			.returning({ savedAt: plans.savedAt });
		return { revision, savedOn: dayOf(savedAt) };
	});
}

/** How many of the steps, from the first on, stand behind revision `base` already. */
async function storedBefore(tx: Pick<Db, 'select'>, id: string, base: number, steps: readonly SavedStep[]): Promise<number> {
	const stored = await tx
		.select({ stepId: revisions.stepId })
		.from(revisions)
		.where(and(eq(revisions.planId, id), gt(revisions.number, base)))
		.orderBy(asc(revisions.number))
		.limit(steps.length);
	const other = steps.findIndex((step, i) => step.id === undefined || stored[i]?.stepId !== step.id);
	return other < 0 ? steps.length : other;
}

/** A new plan from `document`, with copies of the recordings of plan `from`; what names recordings is led to the copies. Returns its id. */
export async function copyPlan(from: string, document: Plan): Promise<string> {
	return db().transaction(async (tx) => {
		const owned = await tx
			.select()
			.from(recordings)
			.where(and(eq(recordings.planId, from), isNull(recordings.deletedAt), eq(recordings.state, 'ready')));
		// Whole recordings are copied within the database, which may take its time.
		await tx.execute(sql`set local statement_timeout = '10min'`);
		const copies = new Map(owned.map((r) => [r.id, randomUUID() as string]));
		const id = await createPlan(ledTo(copies, document), tx);
		for (const recording of owned) {
			const copy = copies.get(recording.id)!;
			await tx.insert(recordings).values({ ...recording, id: copy, planId: id });
			const rows = await tx.select().from(lines).where(eq(lines.recordingId, recording.id));
			if (rows.length > 0) await tx.insert(lines).values(rows.map((row) => ({ ...row, recordingId: copy })));
			for (const table of [chunks, samples, pieces]) await copyRows(tx, table as typeof chunks, recording.id, copy);
		}
		return id;
	});
}

/** A document with all that names recordings led to their copies; what names others is left out. */
export function ledTo(copies: ReadonlyMap<string, string>, document: Plan): Plan {
	const stimuli = Object.entries(document.stimuli).flatMap(([aim, one]): [string, typeof one][] => {
		if (one.kind !== 'recorded') return [[aim, one]];
		const copy = copies.get(one.recording);
		return copy ? [[aim, { ...one, recording: copy }]] : [];
	});
	return {
		...document,
		mappings: document.mappings.filter((m) => copies.has(m.recording)).map((m) => ({ ...m, recording: copies.get(m.recording)! })),
		stimuli: Object.fromEntries(stimuli),
		layings: Object.fromEntries(Object.entries(document.layings).flatMap(([id, one]) => (copies.has(id) ? [[copies.get(id)!, one]] : [])))
	};
}

/** Copies a recording's rows of a table within the database. */
async function copyRows(tx: Pick<Db, 'insert' | 'select'>, table: typeof chunks, from: string, to: string): Promise<void> {
	const rows = tx
		.select({ ...getTableColumns(table), recordingId: sql`${to}`.as('recording_id') })
		.from(table)
		.where(eq(table.recordingId, from));
	await tx.insert(table).select(rows as never);
}

/** Puts a plan away, or brings it back. False for an unknown plan. */
export async function setPlanDeleted(id: string, deleted: boolean): Promise<boolean> {
	const rows = await db()
		.update(plans)
		.set({ deletedAt: deleted ? sql`now()` : null })
		.where(eq(plans.id, id))
		.returning({ id: plans.id });
	return rows.length > 0;
}

/** Notes the verdict on one line as a plan's last, unless the plan was ever checked as a whole: that tells more. False for an unknown plan. */
export async function setVerdict(id: string, lastVerdict: LastVerdict): Promise<boolean> {
	return await db().transaction(async (on) => {
		// A check that is being kept has the plan locked: it is waited for.
		const [plan] = await on.select({ id: plans.id }).from(plans).where(eq(plans.id, id)).for('update');
		if (!plan) return false;
		const [whole] = await on.select({ number: checks.number }).from(checks).where(eq(checks.planId, id)).limit(1);
		if (!whole) await on.update(plans).set({ lastVerdict }).where(eq(plans.id, id));
		return true;
	});
}
