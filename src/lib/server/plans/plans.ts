import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { type LoadedPlan, type Plan, type SavedStep, applyStep, readPlan } from '../../../core/plan/index.js';
import type { LastVerdict } from '../../session/listing.js';
import { db, type Db } from '../store/db.js';
import { StaleRevision } from '../store/revision.js';
import { chunks, lines, plans, recordings, revisions } from '../store/tables.js';

/** Steps kept for undo after a reload. */
const HISTORY = 200;

/** All plans that are not put away, newest first. */
export async function listPlans() {
	return db().select().from(plans).where(isNull(plans.deletedAt)).orderBy(desc(plans.savedAt));
}

/** undefined for an unknown plan; one that was put away is found. Throws PlanError when what is stored is no plan. */
export async function loadPlan(id: string): Promise<LoadedPlan | undefined> {
	const [row] = await db().select().from(plans).where(eq(plans.id, id));
	if (!row) return undefined;
	const saved = await db().select().from(revisions).where(eq(revisions.planId, id)).orderBy(desc(revisions.number)).limit(HISTORY);
	const history = saved.reverse().map(({ kind, merged, step }) => ({ kind, merged: merged === 1, step }));
	return { id, revision: row.revision, document: readPlan(row.document), history };
}

/** Stores a new plan as revision 1 and returns its id. */
export async function createPlan(document: Plan, on: Pick<Db, 'insert'> = db()): Promise<string> {
	const id = randomUUID();
	await on.insert(plans).values({ id, revision: 1, document });
	return id;
}

/**
 * Adds steps to revision `base` of a plan, all or none, and returns the new revision. Throws StaleRevision when the plan
 * has moved on, StepMismatch or PlanError when a step does not fit; undefined for an unknown plan.
 */
export async function saveSteps(id: string, base: number, steps: readonly SavedStep[]): Promise<number | undefined> {
	return db().transaction(async (tx) => {
		const [row] = await tx.select().from(plans).where(eq(plans.id, id)).for('update');
		if (!row) return undefined;
		if (row.revision !== base) throw new StaleRevision(row.revision);
		const document = steps.reduce((doc, { step }) => applyStep(doc, step), readPlan(row.document));
		const revision = base + steps.length;
		await tx
			.insert(revisions)
			.values(steps.map(({ kind, merged, step }, i) => ({ planId: id, number: base + i + 1, kind, merged: merged ? 1 : 0, step })));
		await tx
			.update(plans)
			.set({ document, revision, savedAt: sql`now()` })
			.where(eq(plans.id, id));
		return revision;
	});
}

/** A new plan from `document`, with copies of the recordings of plan `from`; its mappings are led to the copies. Returns its id. */
export async function copyPlan(from: string, document: Plan): Promise<string> {
	return db().transaction(async (tx) => {
		const owned = await tx
			.select()
			.from(recordings)
			.where(and(eq(recordings.planId, from), isNull(recordings.deletedAt)));
		const copies = new Map(owned.map((r) => [r.id, randomUUID() as string]));
		const mappings = document.mappings.filter((m) => copies.has(m.recording)).map((m) => ({ ...m, recording: copies.get(m.recording)! }));
		const id = await createPlan({ ...document, mappings }, tx);
		for (const recording of owned) {
			const copy = copies.get(recording.id)!;
			await tx.insert(recordings).values({ ...recording, id: copy, planId: id });
			const rows = await tx.select().from(lines).where(eq(lines.recordingId, recording.id));
			if (rows.length > 0) await tx.insert(lines).values(rows.map((row) => ({ ...row, recordingId: copy })));
			await tx.execute(sql`insert into ${chunks} select ${copy}, line, number, first_time, last_time, count, first_level, last_level, shortest, packed
				from ${chunks} where recording_id = ${recording.id}`);
		}
		return id;
	});
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

export async function setVerdict(id: string, lastVerdict: LastVerdict): Promise<void> {
	await db().update(plans).set({ lastVerdict }).where(eq(plans.id, id));
}
