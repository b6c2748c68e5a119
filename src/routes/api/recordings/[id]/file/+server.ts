import { answering, refuse } from '$lib/server/http/answers';
import { hasPieces, storedPieces } from '$lib/server/recordings/pieces';
import type { RequestHandler } from './$types';

/** The file that the recording was read from, where it was kept; `?head=` only so many bytes of it. */
export const GET: RequestHandler = ({ params, url }) =>
	answering(async () => {
		if (!(await hasPieces(params.id))) return refuse(404, { message: 'the file of this recording was not kept' });
		const most = Number(url.searchParams.get('head') ?? Infinity);
		const stored = storedPieces(params.id);
		let sent = 0;
		const body = new ReadableStream<Uint8Array>({
			async pull(controller) {
				const { done, value } = await stored.next();
				if (done || sent >= most) return controller.close();
				const part = value.subarray(0, most - sent);
				sent += part.length;
				controller.enqueue(part);
			},
			async cancel() {
				await stored.return(undefined);
			}
		});
		return new Response(body, { headers: { 'content-type': 'application/octet-stream' } });
	});
