import { answering, refuse } from '$lib/server/http/answers';
import { binary, lineOf, windowOf } from '$lib/server/http/lines';
import { lineWindow } from '$lib/server/recordings/lines';
import type { RequestHandler } from './$types';

/** Columns of a window, a byte each (core/trace/overview): `?start=` and `width=` in units, `count=` of columns, `v=` the state of the line. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const { start, width, count } = windowOf(url);
		const line = await lineOf(params);
		if (!line) return refuse(404, { message: 'there is no such line' });
		const columns = await lineWindow(line, start, width, count);
		return new Response(columns, { headers: binary(url) });
	});
