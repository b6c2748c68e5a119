import { createServer } from 'node:http';
import { join } from 'node:path';

/** Serves the build in `root` on loopback. close() answers what is under way, then ends. */
export async function serve(root, port) {
	// The adapter takes https for granted unless a header says otherwise, and limits bodies: our routes set their own limits.
	process.env.PROTOCOL_HEADER = 'x-forwarded-proto';
	process.env.BODY_SIZE_LIMIT = 'Infinity';
	const { handler } = await import(join(root, 'build/handler.js'));
	const server = createServer((request, response) => {
		request.headers['x-forwarded-proto'] = 'http';
		handler(request, response);
	});
	// An upload of hundreds of megabytes may take longer than the usual five minutes.
	server.requestTimeout = 0;
	await new Promise((done, fail) => {
		server.once('error', fail);
		server.listen(port, '127.0.0.1', done);
	});
	const close = async () => {
		const closed = new Promise((done) => server.close(done));
		server.closeIdleConnections();
		const forced = setTimeout(() => server.closeAllConnections(), 3000);
		await closed;
		clearTimeout(forced);
		process.emit('sveltekit:shutdown');
	};
	return { address: `http://127.0.0.1:${server.address().port}`, close };
}
