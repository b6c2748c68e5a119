import { json } from '@sveltejs/kit';
import { answering, refuse } from '$lib/server/http/answers';
import { lineOf, numberOf } from '$lib/server/http/lines';
import { nextEdge } from '$lib/server/recordings/lines';
import type { RequestHandler } from './$types';

/** The line's edge next to `?time=`, in units: behind it (`by=1`) or before it (`by=-1`); null where there is none. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const line = await lineOf(params);
		if (!line) return refuse(404, { message: 'there is no such line' });
		return json({ time: (await nextEdge(line, numberOf(url, 'time'), numberOf(url, 'by', 1) < 0 ? -1 : 1)) ?? null });
	});
