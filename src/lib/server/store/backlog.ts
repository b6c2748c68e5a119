import { setImmediate } from 'node:timers/promises';
import { log } from '../log.js';
import { reasonOf } from './trouble.js';

const REST_MS = 1000;

/** Works through ids one after the other, between calls, a moment after they were named. */
export class Backlog {
	private readonly waiting = new Set<string>();
	private busy = false;

	constructor(private readonly work: (id: string) => Promise<void>) {}

	add(id: string): void {
		this.waiting.add(id);
		if (this.busy) return;
		this.busy = true;
		// Nothing waits for it when the server ends.
		setTimeout(() => void this.drain(), REST_MS).unref();
	}

	private async drain(): Promise<void> {
		for (const id of this.waiting) {
			this.waiting.delete(id);
			try {
				await this.work(id);
			} catch (error) {
				log.warn({ ...reasonOf(error) }, 'a summary could not be made');
			}
			await setImmediate();
		}
		this.busy = false;
	}
}

/** Works on ids for as long as may be, at least one; returns those that it did not come to. */
export async function within(ms: number, ids: readonly string[], work: (id: string) => Promise<void>): Promise<string[]> {
	const until = performance.now() + ms;
	let at = 0;
	while (at < ids.length && (at === 0 || performance.now() < until)) await work(ids[at++]);
	return ids.slice(at);
}
