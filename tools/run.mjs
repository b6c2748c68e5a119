/** Runs the built application with its private database until INT or TERM. */
import { mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Cluster, plainly } from './cluster.mjs';
import { takeLock } from './lock.mjs';
import { serve } from './serve.mjs';

const FIRST_PORT = 4180;
const root = resolve(dirname(fileURLToPath(import.meta.url)), '..');
const data = resolve(process.env.NOLVET_DATA ?? resolve(root, 'data'));

const tell = (text) => console.error(`nolvet: ${text}`);

let cluster;
let server;
let lock;
let stopping;

async function stop(code) {
	stopping ??= (async () => {
		await server?.close();
		await cluster?.stop();
		await lock?.release();
		process.exit(code);
	})();
	await stopping;
}

// What no one caught ends what it belongs to, never all the others.
process.on('uncaughtException', (error) => tell(`unexpected: ${error.stack ?? error}`));
process.on('unhandledRejection', (error) => tell(`unexpected: ${error?.stack ?? error}`));
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));

try {
	mkdirSync(data, { recursive: true });
	lock = await takeLock(data);
	const port = await choosePort();
	cluster = new Cluster(data, tell);
	process.env.DATABASE_URL = await cluster.start();
	process.env.NOLVET_ROOT = root;
	server = await serve(root, port);
	lock.note(server.address);
	console.log(`Nolvet is ready at ${server.address}`);
} catch (error) {
	if (!stopping) tell(plainly(error));
	await stop(1);
}

/** The port asked for, which must be free, or the first free one from 4180 on. */
async function choosePort() {
	const asked = process.env.PORT;
	if (asked !== undefined) {
		const port = Number(asked);
		if (!/^\d{1,5}$/.test(asked) || port > 65535) throw new Error(`PORT is "${asked}"; a number of 0 to 65535 is wanted`);
		if (port !== 0 && !(await isFree(port)))
			throw new Error(`port ${port} is in use. Stop what uses it, or start with another: PORT=${port + 1} ./start`);
		return port;
	}
	for (let port = FIRST_PORT; port < FIRST_PORT + 40; port++) {
		if (await isFree(port)) {
			if (port !== FIRST_PORT) tell(`port ${FIRST_PORT} is in use; taking ${port}`);
			return port;
		}
	}
	throw new Error(`ports ${FIRST_PORT} to ${FIRST_PORT + 39} are all in use; name a free one: PORT=... ./start`);
}

function isFree(port) {
	return new Promise((done) => {
		const probe = createServer();
		probe.once('error', () => done(false));
		probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
	});
}
