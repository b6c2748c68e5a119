import { eq, sql } from 'drizzle-orm';
import { mendTwins, PLAN_VERSION, readPlan, upgradeDocument, upgradeStep } from '../../../core/plan/index.js';
import { log } from '../log.js';
import { db, type Db } from '../store/db.js';
import { onceDone, plans, revisions } from '../store/tables.js';

/** The format that stored steps are brought to; another number whenever the documents or their rules change. */
const STEPS = `plan-steps-${PLAN_VERSION}`;

/**
 * Brings stored plans, and the steps that can be undone, to the newest format: all in one transaction, once for a format. A plan that
 * cannot be read stays as it is, and says so where it is opened.
 */
export async function bringUpPlans(): Promise<void> {
	await db().transaction(async (tx) => {
		const fresh = await tx.insert(onceDone).values({ name: STEPS }).onConflictDoNothing().returning();
		if (fresh.length === 0) return;
		const ids = await tx.select({ id: plans.id }).from(plans);
		for (const { id } of ids) await bringUp(tx, id);
	});
}

/** One plan with its steps; one that cannot be read stays as it is. */
export async function bringUp(tx: Pick<Db, 'select' | 'update'>, id: string): Promise<void> {
	const [row] = await tx.select().from(plans).where(eq(plans.id, id)).for('update');
	try {
		const document = readPlan(mendTwins(upgradeDocument(row.document) as Record<string, unknown>));
		await tx.update(plans).set({ document }).where(eq(plans.id, id));
	} catch (error) {
		log.warn(
			{ plan: id, reason: error instanceof Error ? error.message.slice(0, 300) : 'unknown' },
			'a stored plan cannot be brought up to date'
		);
		return;
	}
	const steps = await tx.select().from(revisions).where(eq(revisions.planId, id));
	for (const { number, step } of steps) {
		const upgraded = upgradeStep(step);
		if (JSON.stringify(upgraded) === JSON.stringify(step)) continue;
		await tx
			.update(revisions)
			.set({ step: upgraded })
			.where(sql`${revisions.planId} = ${id} and ${revisions.number} = ${number}`);
	}
}
