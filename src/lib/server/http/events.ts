/** A word now and then: connections on which nothing moves are dropped. */
const PING_MS = 20_000;
/** How soon a page asks again when the stream has ended. */
const RETRY_MS = 1000;

const open = new Set<() => void>();
// Streams never end by themselves: the server ends them before it waits for what is under way.
process.on('nolvet:closing' as never, () => open.forEach((end) => end()));

/** An answer of server-sent events: `begin` gets what sends one, and returns what is to be done when nobody hears it any more. */
export function eventStream(begin: (send: (event: string, data: string) => void) => () => void): Response {
	let end = () => {};
	const body = new ReadableStream<Uint8Array>({
		start(controller) {
			const encoder = new TextEncoder();
			let closed = false;
			const write = (text: string) => closed || controller.enqueue(encoder.encode(text));
			write(`retry: ${RETRY_MS}\n\n`);
			const ping = setInterval(() => write(':\n\n'), PING_MS);
			const stop = begin((event, data) => write(`event: ${event}\ndata: ${data}\n\n`));
			const forget = () => {
				closed = true;
				clearInterval(ping);
				stop();
				open.delete(close);
			};
			const close = () => {
				forget();
				controller.close();
			};
			open.add(close);
			end = forget;
		},
		cancel: () => end()
	});
	return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-cache' } });
}
