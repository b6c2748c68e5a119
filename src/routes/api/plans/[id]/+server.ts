import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, refuse } from '$lib/server/http/answers';
import { readBody } from '$lib/server/http/body';
import { loadPlan, setPlanDeleted } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const plan = await loadPlan(params.id);
		return plan ? json(plan) : refuse(404, { message: 'there is no such plan' });
	});

/** Puts the plan away, or brings it back. */
export const PATCH: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { deleted } = await readBody(request, z.object({ deleted: z.boolean() }));
		return (await setPlanDeleted(params.id, deleted)) ? json({}) : refuse(404, { message: 'there is no such plan' });
	});
