import { json } from '@sveltejs/kit';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { answering, refuse, tooLarge } from '$lib/server/http/answers';
import { loadPlan } from '$lib/server/plans/plans';
import { LARGEST_UPLOAD, listRecordings, storeRecording } from '$lib/server/recordings/recordings';
import type { RequestHandler } from './$types';

/** The plan's recordings with their lines. */
export const GET: RequestHandler = ({ params }) => answering(async () => json(await listRecordings(params.id)));

/** Takes a file as the raw body, `?name=` its name, and answers with the recording's id. */
export const POST: RequestHandler = ({ params, request, url }) =>
	answering(async () => {
		if (!(await loadPlan(params.id))) return refuse(404, { message: 'there is no such plan' });
		if (Number(request.headers.get('content-length') ?? 0) > LARGEST_UPLOAD) return tooLarge();
		if (!request.headers.has('content-type'))
			return refuse(415, { message: 'the body does not say what it is', accepted: 'application/octet-stream is wanted' });
		const name = (url.searchParams.get('name') ?? 'recording').slice(0, 300);
		const body = request.body ? Readable.fromWeb(request.body as ReadableStream) : Readable.from([]);
		try {
			return json({ id: await storeRecording(params.id, name, body as AsyncIterable<Uint8Array>) }, { status: 201 });
		} catch (thrown) {
			// The sender has gone: what was stored is undone, and no one is left to answer.
			if (request.signal.aborted) return refuse(499, { message: 'stopped by the sender' });
			throw thrown;
		}
	});
