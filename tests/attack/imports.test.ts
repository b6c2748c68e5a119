import { spawn, type ChildProcess } from 'node:child_process';
import { createReadStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { fernhollow, setStep, type Plan } from '../../src/core/plan/index.js';
import { writeDense } from '../../perf/files.js';
import { Cluster } from '../../tools/cluster.mjs';
import { call, databaseOf, dataFolder, dropFolder, hearPlan, pause, start, stop } from '../started.js';
import { LONG } from './form.js';

/** Imports that lose their server, their database or their file in the middle, and two servers that share them. */
const folder = mkdtempSync(join(tmpdir(), 'nolvet-attack-'));
const dense = join(folder, 'dense.vcd');
beforeAll(() => {
	writeDense(dense, LONG ? 600_000_000 : 50_000_000);
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A reader that is silent for three seconds is lost. */
const IMPATIENT = { NOLVET_PATIENCE: '6' };

interface Listed {
	id: string;
	name: string;
	state: string;
	attempts: number;
	progress: { read: number } | null;
	lines: { edges: number }[];
	trouble: { message: string } | null;
}

async function send(address: string, plan: string, name: string): Promise<void> {
	await fetch(`${address}/api/plans/${plan}/recordings?name=${name}`, {
		method: 'POST',
		headers: { 'content-type': 'application/octet-stream', 'content-length': String(statSync(dense).size) },
		body: Readable.toWeb(createReadStream(dense)) as never,
		duplex: 'half'
	} as RequestInit);
}

async function list(address: string, plan: string): Promise<Listed[]> {
	return JSON.parse((await call(address, 'GET', `/api/plans/${plan}/recordings`)).text) as Listed[];
}

/** Asks until what is listed fits; a server that is away for a while is asked again. */
async function until(address: string, plan: string, fits: (all: Listed[]) => boolean, seconds: number): Promise<Listed[]> {
	let seen: Listed[] = [];
	for (const end = Date.now() + seconds * 1000; Date.now() < end; await pause(60)) {
		seen = await list(address, plan).catch(() => seen);
		if (Array.isArray(seen) && fits(seen)) return seen;
	}
	throw new Error(`it never came: ${JSON.stringify(seen).slice(0, 500)}`);
}

const midway = (all: Listed[]) => all.some(({ state, progress }) => state === 'reading' && (progress?.read ?? 0) > 0);
const ready = (all: Listed[]) => all.length > 0 && all.every(({ state }) => state === 'ready');
const edges = ({ lines }: Listed) => lines.reduce((sum, line) => sum + line.edges, 0);
const newPlan = async (address: string) => (await call(address, 'POST', '/api/plans', { document: fernhollow() })).body.id as string;

describe('an import', () => {
	test('whose database, and then whose server, is killed in the middle is done all the same, and is never shown by half', async () => {
		const data = dataFolder();
		let server = await start(data, IMPATIENT);
		try {
			const plan = await newPlan(server.address!);
			await send(server.address!, plan, 'whole.vcd');
			const [whole] = await until(server.address!, plan, ready, 120);
			await send(server.address!, plan, 'hit.vcd');
			await until(server.address!, plan, midway, 60);
			process.kill(databaseOf(data)!, 'SIGKILL');
			const all = await until(server.address!, plan, (seen) => ready(seen) && seen.length === 2, 180);
			expect(all.map(edges)).toEqual([edges(whole), edges(whole)]);
			await send(server.address!, plan, 'lost.vcd');
			const [, , lost] = await until(server.address!, plan, midway, 60);
			expect(lost.lines).toEqual([]);
			await stop(server.child, 'SIGKILL');
			server = await start(data, IMPATIENT);
			const after = await until(server.address!, plan, (seen) => ready(seen) && seen.length === 3, 180);
			expect(after.map(edges)).toEqual(Array(3).fill(edges(whole)));
			expect(server.said()).not.toContain('unexpected:');
		} finally {
			await stop(server.child);
			dropFolder(data);
		}
	});

	test('that is stopped while it is read leaves room and peace; a packed file of nothing is refused', async () => {
		const data = dataFolder();
		const server = await start(data, IMPATIENT);
		try {
			const plan = await newPlan(server.address!);
			await send(server.address!, plan, 'stopped.vcd');
			const [one] = await until(server.address!, plan, midway, 60);
			await call(server.address!, 'PATCH', `/api/recordings/${one.id}`, { deleted: true });
			expect(await list(server.address!, plan)).toEqual([]);
			const bomb = gzipSync(Buffer.alloc(200_000_000));
			const answer = await fetch(`${server.address!}/api/plans/${plan}/recordings?name=bomb.gz&wait`, {
				method: 'POST',
				headers: { 'content-type': 'application/octet-stream' },
				body: bomb
			});
			expect([answer.status, ((await answer.json()) as { message: string }).message]).toEqual([422, expect.stringContaining('zero byte')]);
			await pause(1500);
			expect((await list(server.address!, plan)).map(({ name, lines }) => [name, lines])).toEqual([['bomb.gz', []]]);
			expect(server.said()).not.toContain('unexpected:');
		} finally {
			await stop(server.child);
			dropFolder(data);
		}
	});
});

describe('two servers on one database', () => {
	test('share what is to be read, and one takes up what the other lost', async () => {
		const data = dataFolder();
		const cluster = new Cluster(data);
		const url = await cluster.start();
		const servers: { child: ChildProcess; address: string; said: () => string }[] = [];
		try {
			for (let i = 0; i < 2; i++) servers.push(await beside(url));
			const [a, b] = servers;
			const plan = await newPlan(a.address);
			const ear = await hearPlan(a.address, plan);
			await send(a.address, plan, 'one.vcd');
			await send(b.address, plan, 'two.vcd');
			const all = await until(b.address, plan, (seen) => seen.length === 2 && ready(seen), 180);
			expect(edges(all[0])).toBe(edges(all[1]));
			// What is saved on one is heard on the other.
			const { body } = await call(b.address, 'GET', `/api/plans/${plan}`);
			const step = setStep(body.document as Plan, ['note'], 'from the other', 'note');
			await call(b.address, 'POST', `/api/plans/${plan}/steps`, { base: 1, steps: [{ kind: 'edit', merged: false, step }] });
			await expect.poll(() => ear.heard, { timeout: 10_000 }).toContain('revision 2');
			expect(ear.heard).toContain('recordings');
			ear.close();
			// Whoever reads it is killed: the one that is left does it.
			await send(a.address, plan, 'three.vcd');
			const third = (await until(b.address, plan, midway, 60))[2].id;
			const reader = a.said().includes(third) ? a : b;
			const other = reader === a ? b : a;
			await stop(reader.child, 'SIGKILL');
			const last = await until(other.address, plan, (seen) => seen.length === 3 && ready(seen), 180);
			expect(edges(last[2])).toBe(edges(all[0]));
			expect(other.said()).not.toContain('unexpected:');
		} finally {
			for (const { child } of servers) await stop(child);
			await cluster.stop();
			dropFolder(data);
		}
	});
});

function beside(url: string): Promise<{ child: ChildProcess; address: string; said: () => string }> {
	const child = spawn(process.execPath, ['tools/second.mjs'], {
		env: { ...process.env, ...IMPATIENT, PORT: '0', DATABASE_URL: url },
		stdio: ['ignore', 'pipe', 'pipe']
	});
	let said = '';
	return new Promise((done, fail) => {
		const hear = (piece: Buffer) => {
			said += piece.toString();
			const address = /ready at (\S+)/.exec(said)?.[1];
			if (address) done({ child, address, said: () => said });
		};
		child.stdout.on('data', hear);
		child.stderr.on('data', hear);
		child.once('exit', () => fail(new Error(said)));
	});
}
