import { Readable } from 'node:stream';
import { answering, refuse } from '$lib/server/http/answers';
import { piecesOf } from '$lib/server/http/body';
import { takeArchive } from '$lib/server/backup/take';
import { Busy, writeArchive } from '$lib/server/backup/write';
import { planExists } from '$lib/server/plans/plans';
import type { RequestHandler } from './$types';

/** All plans with what belongs to them and all own parts, or one plan (`?plan=`), as one archive. */
export const GET: RequestHandler = ({ url }) =>
	answering(async () => {
		const plan = url.searchParams.get('plan') ?? undefined;
		if (plan !== undefined && !(await planExists(plan))) return refuse(404, { message: 'there is no such plan' });
		try {
			const name = `nolvet-${new Date().toISOString().slice(0, 10)}.tar.gz`;
			return new Response(Readable.toWeb(writeArchive(plan)) as ReadableStream, {
				headers: {
					'content-type': 'application/gzip',
					'content-disposition': `attachment; filename="${name}"`,
					'cache-control': 'no-store'
				}
			});
		} catch (error) {
			if (error instanceof Busy) return refuse(409, { message: error.message });
			throw error;
		}
	});

/** Takes an archive in. Answers with a line of JSON for each plan and part as it is done, and at last `{"ended": true}` or why it ended before. */
export const POST: RequestHandler = ({ request }) =>
	answering(async () => new Response(await takeArchive(piecesOf(request)), { headers: { 'content-type': 'application/x-ndjson' } }));
