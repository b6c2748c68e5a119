import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering } from '$lib/server/http/answers';
import { DOCUMENT_LIMIT, readBody } from '$lib/server/http/body';
import { createPart, LONGEST_PROFILE, usableParts } from '$lib/server/parts/parts';
import type { RequestHandler } from './$types';

const body = z.object({ text: z.string().max(LONGEST_PROFILE) });

/** The profiles that a plan can be made with; each is had by its key. */
export const GET: RequestHandler = () => answering(async () => json(await usableParts()));

/** Puts a profile on the shelf as it is, valid or not: nothing of a draft is lost. */
export const POST: RequestHandler = ({ request }) =>
	answering(async () => json({ key: await createPart((await readBody(request, body, DOCUMENT_LIMIT)).text) }, { status: 201 }));
