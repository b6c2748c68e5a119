import { setImmediate } from 'node:timers/promises';
import { version } from '$app/environment';
import { log } from '../log.js';
import type { Stamped } from './tables.js';
import { reasonOf } from './trouble.js';

/** How long a list may be held up for what is not worked out yet. */
const PATIENCE_MS = 80;
const REST_MS = 1000;

/** What is kept beside a row for the lists; null: never worked out. */
interface Row<S> {
	id: string;
	revision: number;
	summary: Stamped<S> | null;
}

/**
 * Summaries of rows, worked out by this build of the program and kept beside them. A list looks for a moment at what changed since;
 * the rest comes by and by, one after the other between calls.
 */
export class Summaries<S extends object> {
	private readonly waiting = new Set<string>();
	private busy = false;

	/** `make`: works one out and keeps it, stamped, unless the row has moved on meanwhile; undefined for an unknown row. */
	constructor(private readonly make: (id: string) => Promise<S | undefined>) {}

	/** The rows with their newest summary, the stale or missing ones marked as pending where they were not come to. */
	async of<R extends Row<S>>(rows: readonly R[]): Promise<{ row: R; summed: S | null; pending: boolean }[]> {
		const until = performance.now() + PATIENCE_MS;
		const listed: { row: R; summed: S | null; pending: boolean }[] = [];
		let first = true;
		for (const row of rows) {
			const fresh = row.summary?.revision === row.revision && row.summary.build === version;
			const look = !fresh && (first || performance.now() < until);
			if (look) first = false;
			const made = look ? await this.make(row.id) : undefined;
			const pending = !fresh && !made;
			if (pending) this.soon(row.id);
			listed.push({ row, summed: made ?? row.summary, pending });
		}
		return listed;
	}

	/** Works one out a moment later. */
	soon(id: string): void {
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
				await this.make(id);
			} catch (error) {
				log.warn({ ...reasonOf(error) }, 'a summary could not be made');
			}
			await setImmediate();
		}
		this.busy = false;
	}
}

/** A summary of a revision, made by this build. */
export function stamped<S extends object>(summed: S, revision: number): Stamped<S> {
	return { ...summed, revision, build: version };
}
