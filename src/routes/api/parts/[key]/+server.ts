import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, refuse } from '$lib/server/http/answers';
import { DOCUMENT_LIMIT, readBody, revisionNumber } from '$lib/server/http/body';
import { loadPart, LONGEST_PROFILE, savePart, setPartDeleted } from '$lib/server/parts/parts';
import type { RequestHandler } from './$types';

const saved = z.object({ base: revisionNumber, text: z.string().max(LONGEST_PROFILE) });
const NONE = { message: 'there is no such profile' };

export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const part = await loadPart(params.key);
		return part ? json(part) : refuse(404, NONE);
	});

/** Saves a text over a revision; 409 with the newest revision when that is another. */
export const PUT: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { base, text } = await readBody(request, saved, DOCUMENT_LIMIT);
		const revision = await savePart(params.key, base, text);
		return revision === undefined ? refuse(404, NONE) : json({ revision });
	});

/** Puts the profile away, or brings it back. */
export const PATCH: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { deleted } = await readBody(request, z.object({ deleted: z.boolean() }));
		return (await setPartDeleted(params.key, deleted)) ? json({}) : refuse(404, NONE);
	});
