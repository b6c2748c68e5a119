import { json } from '@sveltejs/kit';
import { answering, refuse } from '$lib/server/http/answers';
import { piecesOf } from '$lib/server/http/body';
import { sendImport } from '$lib/server/jobs/jobs';
import { planExists } from '$lib/server/plans/plans';
import { importEnded, sweepImports, takeFile } from '$lib/server/recordings/imports';
import { LARGEST_UPLOAD, TooLarge } from '$lib/server/recordings/pieces';
import { deletedRecordings, listRecordings, sameFile } from '$lib/server/recordings/recordings';
import { settingsShape } from '$lib/server/recordings/shapes';
import type { RequestHandler } from './$types';

/** The plan's recordings with their lines; `?deleted` those that can be brought back; `?sha256=` the one that was made of such a file. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const sha256 = url.searchParams.get('sha256');
		if (sha256 !== null) return json((await sameFile(params.id, sha256)) ?? null);
		return json(url.searchParams.has('deleted') ? await deletedRecordings(params.id) : await listRecordings(params.id));
	});

/**
 * Takes a file as the raw body: `?name=` its name, `settings=` what is said of it (JSON), `keep` that the file itself stays. Answers with the
 * recording's id once the file is here; it is read after that, and the list tells how far it is. `wait`: answers once it is read, with 422 and
 * the reason where it cannot be.
 */
export const POST: RequestHandler = ({ params, request, url }) =>
	answering(async () => {
		if (!(await planExists(params.id))) return refuse(404, { message: 'there is no such plan' });
		if (Number(request.headers.get('content-length') ?? 0) > LARGEST_UPLOAD) throw new TooLarge();
		if (!request.headers.has('content-type'))
			return refuse(415, { message: 'the body does not say what it is', accepted: 'application/octet-stream is wanted' });
		const settings = settingsShape.parse(JSON.parse(url.searchParams.get('settings') ?? '{}'));
		const name = (url.searchParams.get('name') ?? 'recording').slice(0, 300);
		await sweepImports();
		try {
			const id = await takeFile(params.id, { name, body: piecesOf(request), settings, keepFile: url.searchParams.has('keep') });
			await sendImport(id);
			const trouble = url.searchParams.has('wait') ? await importEnded(id) : undefined;
			return trouble ? refuse(422, { ...trouble, recording: id }) : json({ id }, { status: 201 });
		} catch (thrown) {
			// The sender has gone: what was stored is undone, and no one is left to answer.
			if (request.signal.aborted) return refuse(499, { message: 'stopped by the sender' });
			throw thrown;
		}
	});
