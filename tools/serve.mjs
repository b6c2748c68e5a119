import { createServer } from 'node:http';
import { join } from 'node:path';

/** A request's head must be there in this time, and its body, an upload of a gigabyte, in that. */
const HEADERS_MS = 15_000;
const REQUEST_MS = 2 * 3600_000;
/** A connection on which nothing moves for so long is dropped. */
const IDLE_MS = 120_000;
const OWN_NAMES = ['127.0.0.1', 'localhost', '[::1]'];

/**
 * Serves the build in `root` on loopback, to requests that name this machine, or one of NOLVET_HOST (names with a comma between): a page
 * elsewhere whose name was led here names itself. close() ends the streams of events, answers what is under way, then ends.
 */
export async function serve(root, port) {
	// The adapter takes https for granted unless a header says otherwise, and limits bodies: our routes set their own limits.
	process.env.PROTOCOL_HEADER = 'x-forwarded-proto';
	process.env.BODY_SIZE_LIMIT = 'Infinity';
	const { handler } = await import(join(root, 'build/handler.js'));
	let hosts = new Set();
	const server = createServer((request, response) => {
		// Whatever breaks off on this connection ends this request alone.
		request.on('error', () => undefined);
		response.on('error', () => undefined);
		if (!hosts.has(request.headers.host?.toLowerCase())) {
			response.writeHead(421, { 'content-type': 'text/plain', connection: 'close' });
			response.end('This address is not known here: open the one that the start command names.\n');
			return;
		}
		request.headers['x-forwarded-proto'] = 'http';
		handler(request, response);
	});
	server.headersTimeout = HEADERS_MS;
	server.requestTimeout = REQUEST_MS;
	server.timeout = IDLE_MS;
	await new Promise((done, fail) => {
		server.once('error', fail);
		server.listen(port, '127.0.0.1', done);
	});
	const at = server.address().port;
	hosts = new Set(OWN_NAMES.flatMap((name) => [`${name}:${at}`, ...(at === 80 ? [name] : [])]).concat(namedHosts(at)));
	const close = async () => {
		process.emit('nolvet:closing');
		const closed = new Promise((done) => server.close(done));
		server.closeIdleConnections();
		const forced = setTimeout(() => server.closeAllConnections(), 3000);
		await closed;
		clearTimeout(forced);
		process.emit('sveltekit:shutdown');
	};
	return { address: `http://127.0.0.1:${at}`, close };
}

/** Names that were configured, as they are or with our port. */
function namedHosts(port) {
	const names = (process.env.NOLVET_HOST ?? '')
		.toLowerCase()
		.split(',')
		.map((name) => name.trim());
	return names.filter((name) => name !== '').flatMap((name) => [name, `${name}:${port}`]);
}
