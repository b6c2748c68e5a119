import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { answering, refuse } from '$lib/server/http/answers';
import { readBody } from '$lib/server/http/body';
import { renameRecording, setRecordingDeleted, setStep } from '$lib/server/recordings/recordings';
import type { RequestHandler } from './$types';

const NONE = { message: 'there is no such recording' };
const fraction = z.string().regex(/^[1-9]\d{0,39}\/[1-9]\d{0,39}$/);
const change = z.union([
	z.strictObject({ step: fraction, from: z.enum(['unit', 'sample', 'digit', 'hand']) }),
	z.strictObject({ deleted: z.boolean() }),
	z.strictObject({ name: z.string().min(1).max(300) })
]);

/** Puts the recording away or brings it back, and tells the bytes that it takes; or gives it another name, or another step. */
export const PATCH: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const told = await readBody(request, change);
		if ('step' in told) return (await setStep(params.id, told.step, told.from)) ? json({}) : refuse(404, NONE);
		if ('name' in told) return (await renameRecording(params.id, told.name)) ? json({}) : refuse(404, NONE);
		const done = await setRecordingDeleted(params.id, told.deleted);
		return done ? json(done) : refuse(404, NONE);
	});
