import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, refuse } from '$lib/server/http/answers';
import { readBody } from '$lib/server/http/body';
import { setRecordingDeleted } from '$lib/server/recordings/recordings';
import type { RequestHandler } from './$types';

/** Puts the recording away, or brings it back. */
export const PATCH: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const { deleted } = await readBody(request, z.object({ deleted: z.boolean() }));
		return (await setRecordingDeleted(params.id, deleted)) ? json({}) : refuse(404, { message: 'there is no such recording' });
	});
