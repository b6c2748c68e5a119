import { json } from '@sveltejs/kit';
import { answering, refuse } from '$lib/server/http/answers';
import { piecesOf, readBody } from '$lib/server/http/body';
import { sendImport } from '$lib/server/jobs/jobs';
import { readAgain, takeFileAgain } from '$lib/server/recordings/imports';
import { hasPieces } from '$lib/server/recordings/pieces';
import { isRecording } from '$lib/server/recordings/recordings';
import { settingsShape } from '$lib/server/recordings/shapes';
import type { RequestHandler } from './$types';

const NONE = { message: 'there is no such recording' };

/** Lets the recording be read once more with other settings (JSON), from the file that is kept; what is shown stays until that is done. */
export const POST: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const settings = await readBody(request, settingsShape);
		if (!(await isRecording(params.id))) return refuse(404, NONE);
		if (!(await hasPieces(params.id)))
			return refuse(409, { message: 'the file of this recording was not kept', accepted: 'the file is wanted once more' });
		await readAgain(params.id, settings);
		await sendImport(params.id);
		return json({});
	});

/** The same from a file as the raw body, `?settings=` (JSON), `?keep`. */
export const PUT: RequestHandler = ({ params, request, url }) =>
	answering(async () => {
		if (!request.headers.has('content-type')) return refuse(415, { message: 'the body does not say what it is' });
		const settings = settingsShape.parse(JSON.parse(url.searchParams.get('settings') ?? '{}'));
		const told = { body: piecesOf(request), settings, keepFile: url.searchParams.has('keep') };
		if (!(await takeFileAgain(params.id, told))) return refuse(404, NONE);
		await sendImport(params.id);
		return json({ id: params.id }, { status: 201 });
	});
