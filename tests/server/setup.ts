import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { Cluster } from '../../tools/cluster.mjs';

declare module 'vitest' {
	export interface ProvidedContext {
		/** Address of a database that is empty at first. */
		database: string;
	}
}

/** Starts a database on a throw-away folder; ends it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
	const data = mkdtempSync(join(tmpdir(), 'nolvet-server-'));
	// The database's own user must be able to walk in, or root's cluster would lie elsewhere and stay behind.
	chmodSync(data, 0o755);
	const cluster = new Cluster(data);
	project.provide('database', await cluster.start());
	return async () => {
		await cluster.stop();
		rmSync(data, { recursive: true, force: true });
	};
}
