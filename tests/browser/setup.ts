import type { TestProject } from 'vitest/node';
import { dataFolder, dropFolder, start, stop } from '../started.js';

declare module 'vitest' {
	export interface ProvidedContext {
		/** Address of the built application that the tests drive. */
		base: string;
	}
}

/** Starts the built application on a throw-away data folder and a free port; ends it with TERM. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
	const data = dataFolder();
	const { child, address, said } = await start(data);
	if (address === undefined) throw new Error(`the application ended before it was ready: ${said()}`);
	project.provide('base', address);
	return async () => {
		await stop(child);
		dropFolder(data);
	};
}
