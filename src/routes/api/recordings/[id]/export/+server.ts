import { answering, refuse } from '$lib/server/http/answers';
import { numberOf } from '$lib/server/http/lines';
import { exportRecording } from '$lib/server/recordings/lines';
import type { RequestHandler } from './$types';

const KINDS = { vcd: 'vcd', edges: 'csv', samples: 'csv' } as const;

/** The recording as a file: `?as=` vcd, edges or samples; `from=` and `to=` (excluded) a window of it, in units. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		const as = url.searchParams.get('as') ?? 'vcd';
		if (!Object.hasOwn(KINDS, as)) return refuse(400, { message: `“${as}” is no format`, accepted: 'vcd, edges or samples is wanted' });
		const window = { start: numberOf(url, 'from', -Number.MAX_SAFE_INTEGER), end: numberOf(url, 'to', Number.MAX_SAFE_INTEGER) };
		const found = await exportRecording(params.id, as as keyof typeof KINDS, window);
		if (!found) return refuse(404, { message: 'there is no such recording' });
		const { name, text } = found;
		const file = `${name.replace(/\.[a-z0-9]{1,4}(\.gz)?$/i, '')}-${as}.${KINDS[as as keyof typeof KINDS]}`.replace(/[^\w.-]+/g, '-');
		const bytes = new TextEncoder();
		const body = new ReadableStream<Uint8Array>({
			async pull(controller) {
				const { done, value } = await text.next();
				if (done) controller.close();
				else controller.enqueue(bytes.encode(value));
			},
			async cancel() {
				await text.return(undefined);
			}
		});
		return new Response(body, {
			headers: { 'content-type': as === 'vcd' ? 'text/plain' : 'text/csv', 'content-disposition': `attachment; filename="${file}"` }
		});
	});
