import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { fernhollow, type Plan, setStep } from '../../src/core/plan/index.js';
import { begin, call, databaseOf, dataFolder, dropFolder, pause, start, stop, type Started } from '../started.js';
import { draws, LONG } from './form.js';

/** Starts that are cut short, ends that nobody asked for, and folders that are none. */
let data: string;
beforeEach(() => {
	data = dataFolder();
});
afterEach(() => {
	for (const pid of databasesOn(data)) process.kill(pid, 'SIGKILL');
	dropFolder(data);
});

/** Every process that has the data folder among its words, but for those that the test started itself. */
function databasesOn(folder: string): number[] {
	return readdirSync('/proc').flatMap((pid) => {
		if (!/^\d+$/.test(pid)) return [];
		try {
			const words = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
			return /postgres|initdb/.test(words[0]) && words.some((word) => word.startsWith(folder)) ? [Number(pid)] : [];
		} catch {
			return [];
		}
	});
}

describe('TERM while it starts', () => {
	const moments = LONG ? 50 : 5;
	const apart = LONG ? 200 : 700;

	test(`at ${moments} moments, ${apart} ms apart, leaves no database behind, and the next start works`, async () => {
		for (let i = 0; i < moments; i++) {
			const { child, ready } = begin(data);
			await pause(i * apart);
			await stop(child);
			await ready;
			expect(databasesOn(data)).toEqual([]);
			// Half of them meet a folder that a start was cut short in, the others a new one.
			if (i % 2 === 0) continue;
			rmSync(data, { recursive: true, force: true });
			mkdirSync(data, { mode: 0o755 });
		}
		const after = await start(data);
		expect(after.address).toBeDefined();
		await stop(after.child);
		expect(databasesOn(data)).toEqual([]);
	});
});

describe('kills', () => {
	test('of the server lose no acknowledged edit and put none out of order', async () => {
		const next = draws();
		let server: Started = await start(data);
		const plan = { ...fernhollow(), note: 'note 0' };
		const id = (await call(server.address!, 'POST', '/api/plans', { document: plan })).body.id as string;
		let acknowledged = 0;
		let revision = 1;
		for (let kill = 0; kill < (LONG ? 100 : 2); kill++) {
			const until = performance.now() + 50 + next(400);
			let alive = true;
			const killing = pause(until - performance.now()).then(() => {
				alive = false;
				server.child.kill('SIGKILL');
				// Now and then the database goes with it, all at once.
				if (kill % 2 === 1) for (const pid of databasesOn(data)) process.kill(pid, 'SIGKILL');
			});
			let at = acknowledged;
			while (alive) {
				const step = {
					kind: 'edit',
					merged: false,
					step: setStep({ ...plan, note: `note ${at}` }, ['note'], `note ${at + 1}`, 'note'),
					id: `edit-${at + 1}-x`
				};
				const answer = await call(server.address!, 'POST', `/api/plans/${id}/steps`, { base: revision, steps: [step] }).catch(
					() => undefined
				);
				if (answer?.status !== 200) break;
				acknowledged = ++at;
				revision = answer.body.revision as number;
			}
			await killing;
			server = await start(data);
			expect(server.address, server.said()).toBeDefined();
			const { body } = await call(server.address!, 'GET', `/api/plans/${id}`);
			const held = Number((body.document as Plan).note.replace('note ', ''));
			// The one under way may be in or not; none before it may be missing.
			expect(held - acknowledged).toBeGreaterThanOrEqual(0);
			expect(held - acknowledged).toBeLessThanOrEqual(1);
			expect(body.revision).toBe(1 + held);
			acknowledged = held;
			revision = body.revision as number;
		}
		expect(acknowledged).toBeGreaterThan(0);
		await stop(server.child);
		expect(databasesOn(data)).toEqual([]);
	});

	test.runIf(LONG)('a database of an earlier run that heeds no request is ended, and it is said what is waited for', async () => {
		const first = await start(data);
		const database = databaseOf(data)!;
		first.child.kill('SIGKILL');
		process.kill(database, 'SIGSTOP');
		const second = await start(data);
		expect(second.address).toBeDefined();
		expect(second.said()).toContain(`waiting for a database of an earlier run (process ${database})`);
		await stop(second.child);
	});
});

describe('what is no folder, password or port is told in one line', () => {
	async function line(folder: string, env: Record<string, string> = {}): Promise<string> {
		const { code, said } = await start(folder, env);
		expect(code).toBe(1);
		const lines = said().trim().split('\n');
		expect(lines).toHaveLength(1);
		return lines[0];
	}

	test('a data path that is a file, or below one', async () => {
		const file = join(data, 'file');
		writeFileSync(file, '');
		expect(await line(file)).toContain(`${file} is a file where a folder is wanted`);
		expect(await line(join(file, 'below'))).toContain('is a file where a folder is wanted');
	});

	test('a password file that is empty, gone or wrong', async () => {
		const first = await start(data);
		await stop(first.child);
		const secret = join(data, 'database-password');
		const password = readFileSync(secret, 'utf8');
		writeFileSync(secret, '');
		expect(await line(data)).toContain(`${secret} is empty`);
		rmSync(secret);
		expect(await line(data)).toContain(`${secret} is gone`);
		writeFileSync(secret, 'wrong');
		expect(await line(data)).toContain(`the password in ${secret} is not the database's`);
		writeFileSync(secret, `${password}\n`);
		const again = await start(data);
		expect(again.address).toBeDefined();
		await stop(again.child);
	});

	test.each(['4e3', ' 80', '0x50', '-1', '65536', '80.0', 'http', ''])('PORT “%s”', async (PORT) => {
		expect(await line(data, { PORT })).toBe(`nolvet: PORT is "${PORT}"; a number of 0 to 65535 is wanted`);
	});
});

describe('a full disk', () => {
	/** A small disk in memory, or why there is none. */
	function smallDisk(megabytes: number): string | undefined {
		try {
			execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m,mode=755`, 'tmpfs', data], { stdio: 'pipe' });
			return undefined;
		} catch (error) {
			return `no small disk can be made here: ${String((error as { stderr?: Buffer }).stderr ?? error).trim()}`;
		}
	}
	const unmount = () => execFileSync('umount', ['-l', data]);

	test('at the first start is told in one line', async ({ skip }) => {
		const none = smallDisk(8);
		if (none) return skip(none);
		try {
			const { code, said } = await start(data);
			expect([code, said().trim().split('\n').length]).toEqual([1, 1]);
			expect(said()).toContain('the disk is full');
		} finally {
			unmount();
		}
	});

	test('later on stores nothing by halves, is told, and is over when there is room again', async ({ skip }) => {
		const none = smallDisk(180);
		if (none) return skip(none);
		let server: Started | undefined;
		try {
			server = await start(data);
			const address = server.address!;
			const id = (await call(address, 'POST', '/api/plans', { document: fernhollow() })).body.id as string;
			const filler = join(data, 'filler');
			try {
				writeFileSync(filler, Buffer.alloc(200_000_000));
			} catch {
				// As full as it gets.
			}
			let step = 0;
			const edit = () =>
				call(address, 'POST', '/api/plans', { document: { ...fernhollow(), name: `filling ${step++}`, note: 'x'.repeat(4000) } });
			let full = await edit();
			for (let i = 0; full.status === 201 && i < 3000; i++) full = await edit();
			expect(full.status).toBe(503);
			expect([server.child.exitCode, server.child.signalCode]).toEqual([null, null]);
			rmSync(filler);
			await expect.poll(async () => (await edit()).status, { timeout: 60_000, interval: 500 }).toBe(201);
			expect((await call(address, 'GET', `/api/plans/${id}`)).status).toBe(200);
		} finally {
			if (server) await stop(server.child);
			unmount();
		}
	});
});
