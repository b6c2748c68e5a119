import { json } from '@sveltejs/kit';
import { answering, refuse } from '$lib/server/http/answers';
import { piecesOf } from '$lib/server/http/body';
import { planExists } from '$lib/server/plans/plans';
import { LARGEST_UPLOAD, listRecordings, storeRecording, sweepArriving, TooLarge } from '$lib/server/recordings/recordings';
import type { RequestHandler } from './$types';

/** The plan's recordings with their lines. */
export const GET: RequestHandler = ({ params }) => answering(async () => json(await listRecordings(params.id)));

/** Takes a file as the raw body, `?name=` its name, and answers with the recording's id. */
export const POST: RequestHandler = ({ params, request, url }) =>
	answering(async () => {
		if (!(await planExists(params.id))) return refuse(404, { message: 'there is no such plan' });
		if (Number(request.headers.get('content-length') ?? 0) > LARGEST_UPLOAD) throw new TooLarge();
		if (!request.headers.has('content-type'))
			return refuse(415, { message: 'the body does not say what it is', accepted: 'application/octet-stream is wanted' });
		const name = (url.searchParams.get('name') ?? 'recording').slice(0, 300);
		await sweepArriving();
		try {
			return json({ id: await storeRecording(params.id, name, piecesOf(request)) }, { status: 201 });
		} catch (thrown) {
			// The sender has gone: what was stored is undone, and no one is left to answer.
			if (request.signal.aborted) return refuse(499, { message: 'stopped by the sender' });
			throw thrown;
		}
	});
