import { z } from 'zod';
import { answering, refuse } from '$lib/server/http/answers';
import { binary, lineOf, numberOf } from '$lib/server/http/lines';
import { measureSamples } from '$lib/server/recordings/lines';
import type { RequestHandler } from './$types';

const ofShape = z.enum(['top', 'base', 'rise', 'fall']);

/** What is measured on an analogue line's samples (`?of=`) from `?from=` to `?to=`, in units: pairs of when and what (float64). */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const of = ofShape.parse(url.searchParams.get('of'));
		const window = { start: numberOf(url, 'from'), end: numberOf(url, 'to') };
		const line = await lineOf(params);
		const pairs = line && (await measureSamples(line, of, window));
		if (!pairs) return refuse(404, { message: 'there is no such line of samples' });
		return new Response(new Uint8Array(pairs.buffer as ArrayBuffer), { headers: binary(url) });
	});
