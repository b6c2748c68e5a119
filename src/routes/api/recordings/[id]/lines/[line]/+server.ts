import { answering, refuse } from '$lib/server/http/answers';
import { lineChunks } from '$lib/server/recordings/recordings';
import type { RequestHandler } from './$types';

/** The line's edges as packed chunks in a row (core/trace/store). They never change, so the browser may keep them. */
export const GET: RequestHandler = ({ params }) =>
	answering(async () => {
		const packed = /^\d{1,9}$/.test(params.line) ? await lineChunks(params.id, Number(params.line)) : undefined;
		if (!packed) return refuse(404, { message: 'there is no such line' });
		return new Response(new Uint8Array(Buffer.concat(packed)), {
			headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=31536000, immutable' }
		});
	});
