import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { keepCheck, listChecks } from '$lib/server/checks/checks';
import { answering, refuse } from '$lib/server/http/answers';
import { readBody, revisionNumber } from '$lib/server/http/body';
import type { RequestHandler } from './$types';

const outcome = z.enum(['within', 'outside', 'undecided']);
const text = z.string().max(300);

const body = z.object({
	revision: revisionNumber,
	told: z.strictObject({
		verdict: outcome,
		asSet: outcome,
		aims: z.array(z.strictObject({ id: text, name: text, verdict: outcome, asSet: outcome })).max(1000),
		suspects: z.array(z.array(z.string().max(60)).max(4)).max(40),
		recordings: z.array(z.strictObject({ id: text, name: text, generation: z.int().min(0) })).max(1000)
	})
});

/** The plan's newest checks, newest first. */
export const GET: RequestHandler = ({ params }) => answering(async () => json(await listChecks(params.id)));

/** Keeps a check that the page has made; one like the one before is not kept again. */
export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { revision, told } = await readBody(request, body);
		return (await keepCheck(params.id, revision, told)) ? json({}, { status: 201 }) : refuse(404, { message: 'there is no such plan' });
	});
