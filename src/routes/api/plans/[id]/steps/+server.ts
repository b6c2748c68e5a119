import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { stepSchema } from '$core/plan/index.js';
import { answering, refuse } from '$lib/server/http/answers';
import { DOCUMENT_LIMIT, readBody, revisionNumber } from '$lib/server/http/body';
import { saveSteps } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

const body = z.object({
	base: revisionNumber,
	steps: z
		.array(
			z.object({ kind: z.enum(['edit', 'undo', 'redo']), merged: z.boolean(), step: stepSchema, id: z.string().min(8).max(64).optional() })
		)
		.min(1)
		.max(1000)
});

/** Saves steps on top of a revision, each once however often it is sent; 409 with the newest revision when that is another. */
export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { base, steps } = await readBody(request, body, DOCUMENT_LIMIT);
		const saved = await saveSteps(params.id, base, steps);
		return saved ? json(saved) : refuse(404, { message: 'there is no such plan' });
	});
