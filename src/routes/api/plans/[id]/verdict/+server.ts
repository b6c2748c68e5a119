import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, refuse } from '$lib/server/http/answers';
import { readBody, revisionNumber } from '$lib/server/http/body';
import { setVerdict } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

const body = z.object({
	outcome: z.enum(['within', 'outside', 'undecided']),
	aim: z.string().max(120),
	recording: z.string().max(300),
	revision: revisionNumber
});

/** Notes the newest verdict for the Plans station. */
export const PUT: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const found = await setVerdict(params.id, await readBody(request, body));
		return found ? json({}) : refuse(404, { message: 'there is no such plan' });
	});
