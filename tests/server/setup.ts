import type { TestProject } from 'vitest/node';
import { Cluster } from '../../tools/cluster.mjs';
import { dataFolder, dropFolder } from '../started.js';

declare module 'vitest' {
	export interface ProvidedContext {
		/** Address of a database that is empty at first. */
		database: string;
	}
}

/** Starts a database on a throw-away folder; ends it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
	const data = dataFolder();
	const cluster = new Cluster(data);
	project.provide('database', await cluster.start());
	return async () => {
		await cluster.stop();
		dropFolder(data);
	};
}
