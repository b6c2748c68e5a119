import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';

declare module 'vitest' {
	export interface ProvidedContext {
		/** Address of the built application that the tests drive. */
		base: string;
	}
}

/** Starts the built application on a throw-away data folder and a free port; ends it with TERM. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
	const data = mkdtempSync(join(tmpdir(), 'nolvet-test-'));
	// The database's own user must be able to walk in, or root's cluster would lie elsewhere and stay behind.
	chmodSync(data, 0o755);
	const child = spawn(process.execPath, ['tools/run.mjs'], {
		env: { ...process.env, NOLVET_DATA: data, PORT: '0' },
		stdio: ['ignore', 'pipe', 'inherit']
	});
	project.provide('base', await addressOf(child));
	return async () => {
		const ended = new Promise((done) => child.once('exit', done));
		child.kill('SIGTERM');
		await ended;
		rmSync(data, { recursive: true, force: true });
	};
}

function addressOf(child: ChildProcess): Promise<string> {
	return new Promise((done, fail) => {
		let said = '';
		child.stdout!.on('data', (piece: Buffer) => {
			said += piece.toString();
			const found = /ready at (\S+)/.exec(said);
			if (found) done(found[1]);
		});
		child.once('exit', (code) => fail(new Error(`the application ended with ${code} before it was ready: ${said}`)));
	});
}
