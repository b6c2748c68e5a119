import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { readPlan } from '$core/plan/index.js';
import { answering, refuse } from '$lib/server/http/answers';
import { DOCUMENT_LIMIT, readBody } from '$lib/server/http/body';
import { copyPlan, loadPlan } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

const body = z.object({ document: z.unknown().optional(), name: z.string().max(120) });

/** A new plan of that name with the plan's recordings: from the document given, or else from the plan as it stands. */
export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { document, name } = await readBody(request, body, DOCUMENT_LIMIT);
		const plan = await loadPlan(params.id);
		if (!plan) return refuse(404, { message: 'there is no such plan' });
		const copy = { ...(document === undefined ? plan.document : readPlan(document)), name };
		return json({ id: await copyPlan(params.id, copy) }, { status: 201 });
	});
