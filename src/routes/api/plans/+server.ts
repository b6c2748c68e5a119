import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { newPlan, readPlan } from '$core/plan/index.js';
import { answering, readBody } from '$lib/server/answers';
import { createPlan } from '$lib/server/plans';
import type { RequestHandler } from './$types';

const body = z.union([
	z.object({ document: z.unknown() }).strict(),
	z.object({ name: z.string().min(1).max(120), part: z.string() }).strict()
]);

/** Makes a plan: an empty one on a shipped part, or from a document. */
export const POST: RequestHandler = ({ request }) =>
	answering(async () => {
		const asked = await readBody(request, body);
		const document = 'document' in asked ? readPlan(asked.document) : newPlan(asked.name, asked.part);
		return json({ id: await createPlan(document) }, { status: 201 });
	});
