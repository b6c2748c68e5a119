import { json } from '@sveltejs/kit';
import { answering, refuse } from '$lib/server/http/answers';
import { lineOf, numberOf } from '$lib/server/http/lines';
import { measureLine } from '$lib/server/recordings/lines';
import { toWire } from '../../../../../../../workers/benchWire.js';
import type { RequestHandler } from './$types';

/** What a line's pulses measure from `?from=` to `?to=` (excluded), in units. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const line = await lineOf(params);
		if (!line) return refuse(404, { message: 'there is no such line' });
		return json(toWire(await measureLine(line, { start: numberOf(url, 'from'), end: numberOf(url, 'to') })));
	});
