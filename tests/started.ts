import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export interface Started {
	child: ChildProcess;
	/** undefined: it ended before it was ready. */
	address: string | undefined;
	/** All that it said so far, log and all. */
	said: () => string;
	code: number | null;
}

/** A throw-away data folder that the database's own user can walk into: else root's cluster would lie elsewhere and stay behind. */
export function dataFolder(): string {
	const data = mkdtempSync(join(tmpdir(), 'nolvet-test-'));
	chmodSync(data, 0o755);
	return data;
}

export function dropFolder(data: string): void {
	rmSync(data, { recursive: true, force: true });
}

/** Begins to start the application on a data folder; `ready` comes when it is, or when it has ended. */
export function begin(data: string, env: Record<string, string> = {}): { child: ChildProcess; ready: Promise<Started> } {
	const child = spawn(process.execPath, ['tools/run.mjs'], {
		env: { ...process.env, PORT: '0', ...env, NOLVET_DATA: data },
		stdio: ['ignore', 'pipe', 'pipe']
	});
	let said = '';
	const ready = new Promise<Started>((done) => {
		const hear = (piece: Buffer) => {
			said += piece.toString();
			const address = /ready at (\S+)/.exec(said)?.[1];
			if (address) done({ child, address, said: () => said, code: null });
		};
		child.stdout.on('data', hear);
		child.stderr.on('data', hear);
		child.once('exit', (code) => done({ child, address: undefined, said: () => said, code }));
	});
	return { child, ready };
}

export function start(data: string, env: Record<string, string> = {}): Promise<Started> {
	return begin(data, env).ready;
}

/** Sends a signal and waits for the end; returns the exit code. */
export function stop(child: ChildProcess, signal: NodeJS.Signals = 'SIGTERM'): Promise<number | null> {
	if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve(child.exitCode);
	const ended = new Promise<number | null>((done) => child.once('exit', (code) => done(code)));
	child.kill(signal);
	return ended;
}

/** The process of the database on a data folder, while it runs. */
export function databaseOf(data: string): number | undefined {
	const file = join(data, 'cluster/postmaster.pid');
	if (!existsSync(file)) return undefined;
	const pid = Number(readFileSync(file, 'utf8').split('\n')[0]);
	try {
		return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(join(data, 'cluster')) ? pid : undefined;
	} catch {
		return undefined;
	}
}

export const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** A call with JSON; the answer's status, and its body where that is JSON. */
export async function call(
	address: string,
	method: string,
	path: string,
	body?: unknown,
	headers: Record<string, string> = {}
): Promise<{ status: number; body: Record<string, unknown>; text: string }> {
	const response = await fetch(address + path, {
		method,
		headers: { 'content-type': 'application/json', ...headers },
		...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) })
	});
	const text = await response.text();
	let read: Record<string, unknown> = {};
	try {
		read = JSON.parse(text) as Record<string, unknown>;
	} catch {
		// No JSON is told by its text.
	}
	return { status: response.status, body: read, text };
}

/** Hears the events of a plan; `heard` holds them all as "event data". close() ends it. */
export async function hearPlan(address: string, id: string): Promise<{ heard: string[]; close: () => void }> {
	const abort = new AbortController();
	const response = await fetch(`${address}/api/plans/${id}/events`, { signal: abort.signal });
	const heard: string[] = [];
	const read = async () => {
		let text = '';
		for await (const piece of response.body!.pipeThrough(new TextDecoderStream())) {
			text += piece;
			const whole = text.split('\n\n');
			text = whole.pop()!;
			for (const one of whole) {
				const found = /^event: (.*)\ndata: (.*)$/.exec(one);
				if (found) heard.push(`${found[1]} ${found[2]}`.trim());
			}
		}
	};
	read().catch(() => undefined);
	return { heard, close: () => abort.abort() };
}
