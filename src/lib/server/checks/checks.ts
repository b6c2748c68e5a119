import { and, desc, eq, lte, sql } from 'drizzle-orm';
import { sameCheck, type CheckTold, type PastCheck } from '../../session/pastChecks.js';
import type { LastVerdict } from '../../session/listing.js';
import { db } from '../store/db.js';
import { checks, plans } from '../store/tables.js';

/** Checks of a plan that are kept, and those that are listed, at the most. */
const [KEPT, LISTED] = [200, 50];

/** The newest checks of a plan, newest first. */
export async function listChecks(planId: string): Promise<PastCheck[]> {
	const rows = await db().select().from(checks).where(eq(checks.planId, planId)).orderBy(desc(checks.number)).limit(LISTED);
	return rows.map(({ number, revision, madeAt, told }) => ({ ...told, number, revision, madeAt: madeAt.toISOString() }));
}

/** Keeps a check, unless the one before is the same, and notes its verdict on the plan. False for an unknown plan. */
export async function keepCheck(planId: string, revision: number, told: CheckTold): Promise<boolean> {
	return await db().transaction(async (on) => {
		const [plan] = await on.select({ id: plans.id }).from(plans).where(eq(plans.id, planId)).for('update');
		if (!plan) return false;
		const [worst, ...others] = told.aims.filter(({ verdict }) => verdict === told.verdict);
		const [{ name: recording } = { name: '' }, ...more] = told.recordings;
		const lastVerdict: LastVerdict = {
			outcome: told.verdict,
			aim: worst?.name ?? '',
			...(others.length > 0 && { more: others.length }),
			recording: more.length > 0 ? '' : recording,
			revision
		};
		await on.update(plans).set({ lastVerdict }).where(eq(plans.id, planId));
		const [last] = await on.select().from(checks).where(eq(checks.planId, planId)).orderBy(desc(checks.number)).limit(1);
		if (last && last.revision === revision && sameCheck(last.told, told)) return true;
		const [{ number }] = await on.insert(checks).values({ planId, revision, told }).returning({ number: checks.number });
		const old = sql`(select number from ${checks} where plan_id = ${planId} and number <= ${number} order by number desc offset ${KEPT} limit 1)`;
		await on.delete(checks).where(and(eq(checks.planId, planId), lte(checks.number, old)));
		return true;
	});
}
