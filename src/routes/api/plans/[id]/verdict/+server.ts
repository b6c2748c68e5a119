import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, readBody } from '$lib/server/http/answers';
import { setVerdict } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

const body = z.object({
	outcome: z.enum(['within', 'outside', 'undecided']),
	aim: z.string().max(120),
	recording: z.string().max(300),
	revision: z.int()
});

/** Notes the newest verdict for the Plans station. */
export const PUT: RequestHandler = ({ params, request }) =>
	answering(async () => {
		await setVerdict(params.id, await readBody(request, body));
		return json({});
	});
