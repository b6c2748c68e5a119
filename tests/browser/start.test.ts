import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';

let data: string;
let running: ChildProcess[] = [];

beforeEach(() => {
	data = mkdtempSync(join(tmpdir(), 'nolvet-start-'));
	chmodSync(data, 0o755);
});
afterEach(async () => {
	for (const child of running) await stop(child, 'SIGTERM');
	running = [];
	rmSync(data, { recursive: true, force: true });
});

interface Started {
	child: ChildProcess;
	address: string | undefined;
	said: string;
	code: number | null;
}

/** Starts the application and waits until it is ready or has ended. */
function start(port = '0'): Promise<Started> {
	const child = spawn(process.execPath, ['tools/run.mjs'], {
		env: { ...process.env, NOLVET_DATA: data, PORT: port },
		stdio: ['ignore', 'pipe', 'pipe']
	});
	running.push(child);
	let said = '';
	return new Promise((done) => {
		const hear = (piece: Buffer) => {
			said += piece.toString();
			const address = /ready at (\S+)/.exec(said)?.[1];
			if (address) done({ child, address, said, code: null });
		};
		child.stdout.on('data', hear);
		child.stderr.on('data', hear);
		child.once('exit', (code) => done({ child, address: undefined, said, code }));
	});
}

function stop(child: ChildProcess, signal: NodeJS.Signals): Promise<number | null> {
	if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve(child.exitCode);
	const ended = new Promise<number | null>((done) => child.once('exit', (code) => done(code)));
	child.kill(signal);
	return ended;
}

function databaseRuns(): boolean {
	const file = join(data, 'cluster/postmaster.pid');
	if (!existsSync(file)) return false;
	const pid = readFileSync(file, 'utf8').split('\n')[0];
	return existsSync(`/proc/${pid}`);
}

describe('the start command’s runner', () => {
	test.each(['SIGINT', 'SIGTERM'] as const)('%s ends server and database, and the same data start again', async (signal) => {
		const first = await start();
		expect((await fetch(`${first.address}/plans`)).status).toBe(200);
		expect(databaseRuns()).toBe(true);
		expect(await stop(first.child, signal)).toBe(0);
		expect(databaseRuns()).toBe(false);
		const again = await start();
		expect(await (await fetch(`${again.address}/plans`)).text()).toContain('Fernhollow Observatory');
	});

	test('a second start on the same data says where the first runs', async () => {
		const first = await start();
		const second = await start();
		expect(second.code).toBe(1);
		expect(second.said).toContain(`Nolvet runs on this data already, at ${first.address}`);
		expect((await fetch(`${first.address}/plans`)).status).toBe(200);
	});

	test('a port in use is said, with what to type instead', async () => {
		const taken = createServer();
		const port = await new Promise<number>((done) => taken.listen(0, '127.0.0.1', () => done((taken.address() as { port: number }).port)));
		const refused = await start(String(port));
		taken.close();
		expect(refused.code).toBe(1);
		expect(refused.said).toContain(`port ${port} is in use`);
		expect(refused.said).toContain(`PORT=${port + 1} ./start`);
	});

	test('after an unclean stop the next start works on the same data', async () => {
		const first = await start();
		await stop(first.child, 'SIGKILL');
		expect(databaseRuns()).toBe(true);
		const again = await start();
		expect(await (await fetch(`${again.address}/plans`)).text()).toContain('Fernhollow Observatory');
		expect(await stop(again.child, 'SIGTERM')).toBe(0);
		expect(databaseRuns()).toBe(false);
	});

	test('only loopback is listened on', async () => {
		const { address } = await start();
		expect(new URL(address!).hostname).toBe('127.0.0.1');
		const hex = Number(new URL(address!).port).toString(16).toUpperCase().padStart(4, '0');
		const listening = readFileSync('/proc/net/tcp', 'utf8')
			.split('\n')
			.map((line) => line.trim().split(/\s+/))
			.filter((f) => f[3] === '0A' && f[1].endsWith(`:${hex}`));
		expect(listening.map((f) => f[1].split(':')[0])).toEqual(['0100007F']);
	});
});
