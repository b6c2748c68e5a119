import { json } from '@sveltejs/kit';
import { answering, refuse } from '$lib/server/http/answers';
import { readBody } from '$lib/server/http/body';
import { binary, lineOf, numberOf } from '$lib/server/http/lines';
import { chunksFrom, cutAgain, lineChunks } from '$lib/server/recordings/lines';
import { slicingShape } from '$lib/server/recordings/shapes';
import type { RequestHandler } from './$types';

/** Chunks that one answer holds at the most. */
const MOST_CHUNKS = 64;
/** Beyond any chunk's number. */
const MOST_NUMBER = 2_000_000_000;

/**
 * Edges of the line as packed chunks in a row (core/trace/store): from chunk `?first=` on, and where more come, the next one's number in the
 * head `x-next`; or those with edges from `?from=` to `?to=`, in units, 413 where they are more than one answer holds. `?v=` names the state
 * of the line, which never changes.
 */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const line = await lineOf(params);
		if (!line) return refuse(404, { message: 'there is no such line' });
		if (!url.searchParams.has('from')) {
			const first = Math.min(MOST_NUMBER, Math.max(0, Math.floor(numberOf(url, 'first', 0))));
			const { packed, all } = await chunksFrom(line, first, MOST_CHUNKS);
			return packedAnswer(url, packed, all ? undefined : first + MOST_CHUNKS);
		}
		const { packed, all } = await lineChunks(line, numberOf(url, 'from'), numberOf(url, 'to'), MOST_CHUNKS);
		if (!all) return refuse(413, { message: 'too many edges for one answer', accepted: 'a shorter window is wanted' });
		return packedAnswer(url, packed, undefined);
	});

function packedAnswer(url: URL, packed: readonly Buffer[], next: number | undefined): Response {
	return new Response(new Uint8Array(Buffer.concat(packed)), {
		headers: { ...binary(url), ...(next !== undefined && { 'x-next': String(next) }) }
	});
}

/** Cuts an analogue line anew. */
export const PATCH: RequestHandler = ({ params, request }) =>
	answering(async () => {
		const told = await readBody(request, slicingShape);
		const number = /^\d{1,9}$/.test(params.line) ? Number(params.line) : -1;
		return (await cutAgain(params.id, number, told)) ? json({}) : refuse(404, { message: 'there is no such line of samples' });
	});
