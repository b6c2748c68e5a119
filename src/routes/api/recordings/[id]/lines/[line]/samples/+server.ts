import { answering, refuse } from '$lib/server/http/answers';
import { binary, lineOf, windowOf } from '$lib/server/http/lines';
import { sampleWindow } from '$lib/server/recordings/lines';
import type { RequestHandler } from './$types';

/** Least and greatest sample in each column of a window (float32, least first, NaN for none): `?start=`, `width=` in units, `count=` of columns. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const { start, width, count } = windowOf(url);
		const line = await lineOf(params);
		if (!line) return refuse(404, { message: 'there is no such line' });
		const columns = await sampleWindow(line, start, width, count);
		return new Response(new Uint8Array(columns.buffer as ArrayBuffer), { headers: binary(url) });
	});
