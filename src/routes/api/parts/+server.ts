import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, readBody } from '$lib/server/http/answers';
import { createPart, LONGEST_PROFILE, usableParts } from '$lib/server/parts/parts';
import type { RequestHandler } from './$types';

const body = z.object({ text: z.string().max(LONGEST_PROFILE) });

/** The profiles that a plan can be made with, whole. */
export const GET: RequestHandler = () => answering(async () => json(await usableParts()));

/** Puts a profile on the shelf as it is, valid or not: nothing of a draft is lost. */
export const POST: RequestHandler = ({ request }) =>
	answering(async () => json({ key: await createPart((await readBody(request, body)).text) }, { status: 201 }));
