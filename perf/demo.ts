import { createReadStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { Readable } from 'node:stream';
import { fernhollow } from '../src/core/plan/index.js';
import { call, dataFolder, dropFolder, pause, start, stop } from '../tests/started.js';

/** The built application with the demo plan in a database of its own, and a folder for files. */
export interface Demo {
	address: string;
	pid: number;
	plan: string;
	folder: string;
}

/** Starts one for the length of some work, and clears it away. */
export async function withDemo(work: (demo: Demo) => Promise<void>): Promise<void> {
	const folder = mkdtempSync(join(tmpdir(), 'nolvet-bench-'));
	const data = dataFolder();
	const server = await start(data);
	const address = server.address!;
	try {
		const { body } = await call(address, 'POST', '/api/plans', { document: fernhollow() });
		await work({ address, pid: server.child.pid!, plan: body.id as string, folder });
	} finally {
		await stop(server.child);
		dropFolder(data);
		rmSync(folder, { recursive: true });
	}
}

/** A recording as the server lists it. */
export interface Listed {
	id: string;
	state: string;
	endTime: number;
	generation: number;
	lines: { number: number; edges: number }[];
}

/** Sends a file and waits until it is read. */
export async function imported({ address, plan }: Demo, path: string, onSent: () => void = () => undefined): Promise<Listed> {
	await fetch(`${address}/api/plans/${plan}/recordings?name=${basename(path)}`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream', 'content-length': String(statSync(path).size) },
		body: Readable.toWeb(createReadStream(path, { highWaterMark: 1 << 20 })) as never,
		duplex: 'half'
	} as RequestInit);
	onSent();
	for (;;) {
		await pause(200);
		const [found] = JSON.parse((await call(address, 'GET', `/api/plans/${plan}/recordings`)).text) as Listed[];
		if (found.state === 'refused') throw new Error('the dump was refused');
		if (found.state === 'ready') return found;
	}
}
