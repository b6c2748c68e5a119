import { createServer } from 'node:net';
import { existsSync, readFileSync, statSync, truncateSync } from 'node:fs';
import { join } from 'node:path';
import { spawnSync, type ChildProcess } from 'node:child_process';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { begin, databaseOf, dataFolder, dropFolder, stop, type Started } from '../started.js';

let data: string;
let running: ChildProcess[] = [];

beforeEach(() => {
	data = dataFolder();
});
afterEach(async () => {
	for (const child of running) await stop(child);
	running = [];
	dropFolder(data);
});

/** Starts the application, which is stopped behind the test, and waits until it is ready or has ended. */
function start(port = '0'): Promise<Started> {
	const { child, ready } = begin(data, { PORT: port });
	running.push(child);
	return ready;
}

describe('the start command’s runner', () => {
	test.each(['SIGINT', 'SIGTERM'] as const)('%s ends server and database, and the same data start again', async (signal) => {
		const first = await start();
		expect((await fetch(`${first.address}/plans`)).status).toBe(200);
		expect(databaseOf(data)).toBeDefined();
		expect(await stop(first.child, signal)).toBe(0);
		expect(databaseOf(data)).toBeUndefined();
		const again = await start();
		expect(await (await fetch(`${again.address}/plans`)).text()).toContain('Fernhollow Observatory');
	});

	test('a second start on the same data says where the first runs', async () => {
		const first = await start();
		const second = await start();
		expect(second.code).toBe(1);
		expect(second.said()).toContain(`Nolvet runs on this data already, at ${first.address}`);
		expect((await fetch(`${first.address}/plans`)).status).toBe(200);
	});

	test('a port in use is said, with what to type instead', async () => {
		const taken = createServer();
		const port = await new Promise<number>((done) => taken.listen(0, '127.0.0.1', () => done((taken.address() as { port: number }).port)));
		const refused = await start(String(port));
		taken.close();
		expect(refused.code).toBe(1);
		expect(refused.said()).toContain(`port ${port} is in use`);
		expect(refused.said()).toContain(`PORT=${port + 1} ./start`);
	});

	test('after an unclean stop the next start works on the same data', async () => {
		const first = await start();
		await stop(first.child, 'SIGKILL');
		expect(databaseOf(data)).toBeDefined();
		const again = await start();
		expect(await (await fetch(`${again.address}/plans`)).text()).toContain('Fernhollow Observatory');
		expect(await stop(again.child, 'SIGTERM')).toBe(0);
		expect(databaseOf(data)).toBeUndefined();
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

	test('a backup moves all plans to another machine, from the command line', async () => {
		const first = await start();
		const archive = join(data, 'all.tar.gz');
		const nolvet = (...args: string[]) => {
			const { status, stdout, stderr } = spawnSync('./nolvet', args, { encoding: 'utf8' });
			return { status, out: stdout, err: stderr };
		};
		expect(nolvet('export', archive).err).toContain('--all');
		expect(nolvet('export', '--all', '--server', first.address!, archive)).toMatchObject({
			status: 0,
			out: expect.stringContaining(archive) as string
		});
		const other = dataFolder();
		const { child, ready } = begin(other);
		const second = await ready;
		try {
			const { status, out, err } = nolvet('import', '--server', second.address!, archive);
			expect([status, err]).toEqual([0, '']);
			expect(out).toContain('plan “Fernhollow Observatory”: taken in with 13 recordings');
			expect(nolvet('import', '--server', second.address!, archive).out).toContain('here already');
			truncateSync(archive, Math.floor(statSync(archive).size / 2));
			expect(nolvet('import', '--server', second.address!, archive)).toMatchObject({
				status: 2,
				err: expect.stringContaining('cut off') as string
			});
			expect(nolvet('import', '--server', second.address!, join(data, 'none.tar.gz')).err).toContain('there is no such file');
		} finally {
			await stop(child);
			dropFolder(other);
		}
		expect(nolvet('import', '--server', second.address!, archive)).toMatchObject({
			status: 2,
			err: expect.stringContaining('does not answer') as string
		});
		expect(existsSync(`${archive}.part`)).toBe(false);
	});
});
