import { Refused } from './api.js';
import { notices } from './notices.svelte.js';

/** Runs something that may be refused, and says so: what did not work, why, and what would be accepted. */
export async function attempt(what: string, run: () => Promise<unknown>, comfort = ''): Promise<void> {
	try {
		await run();
	} catch (error) {
		const accepted = error instanceof Refused && error.accepted ? ` ${error.accepted}.` : '';
		notices.fault(`${what}: ${error instanceof Error ? error.message : String(error)}.${accepted}${comfort && ` ${comfort}`}`);
	}
}
