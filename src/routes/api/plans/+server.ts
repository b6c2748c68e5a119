import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { newPlan, readPlan } from '$core/plan/index.js';
import { answering, refuse } from '$lib/server/http/answers';
import { DOCUMENT_LIMIT, readBody } from '$lib/server/http/body';
import { usablePart } from '$lib/server/parts/parts';
import { createPlan } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

const body = z.union([
	z.object({ document: z.unknown() }).strict(),
	z.object({ name: z.string().min(1).max(120), part: z.string() }).strict()
]);

/** Makes a plan: an empty one on a usable part of the shelf, named by its key, or from a document. */
export const POST: RequestHandler = ({ request }) =>
	answering(async () => {
		const asked = await readBody(request, body, DOCUMENT_LIMIT);
		if ('document' in asked) return json({ id: await createPlan(readPlan(asked.document)) }, { status: 201 });
		const found = await usablePart(asked.part);
		if (!found) return refuse(422, { message: 'there is no usable part of that key', accepted: 'Parts lists all there are' });
		return json({ id: await createPlan(newPlan(asked.name, found)) }, { status: 201 });
	});
