import { Refused } from './api.js';

export type SaveState =
	| { kind: 'saved' }
	| { kind: 'saving' }
	/** The last try failed; the edits are kept and tried again. */
	| { kind: 'failed'; message: string }
	/** Another tab or person has saved a newer revision. */
	| { kind: 'stale'; revision: number };

const WAIT_MS = 250;
const FIRST_RETRY_MS = 1000;
const LAST_RETRY_MS = 4000;

/** What a saver saves: a document with edits that are not saved yet. */
export interface Savable {
	/** Are there edits that were not saved? */
	readonly unsaved: boolean;
	/** Sends them, and takes the new revision; throws when that fails. */
	send(): Promise<void>;
	/** Somebody has saved a newer revision: what can be done about it is done, or left to who edits. */
	behind?(revision: number): Promise<void>;
}

/** Saves a document a moment after each edit, one call at a time, and again after a failure; stops when somebody has saved a newer revision. */
export class Saver {
	state = $state.raw<SaveState>({ kind: 'saved' });
	private timer: ReturnType<typeof setTimeout> | undefined;
	private retry = FIRST_RETRY_MS;
	private inFlight: Promise<void> | undefined;
	/** The newer revision for which a save was just refused. */
	private refused: number | undefined;

	constructor(private readonly document: Savable) {}

	/** A call is under way. */
	get busy(): boolean {
		return this.inFlight !== undefined;
	}

	/** Something was edited. */
	soon(): void {
		if (this.state.kind === 'stale') return;
		this.state = { kind: 'saving' };
		this.later(WAIT_MS);
	}

	/** Saves now; resolves when the try is over, whatever came of it. */
	async flush(): Promise<void> {
		clearTimeout(this.timer);
		while (this.inFlight) await this.inFlight;
		if (this.state.kind === 'stale') return;
		// What was undone again before it was sent is saved as it stands.
		if (!this.document.unsaved) {
			if (this.state.kind === 'saving') this.state = { kind: 'saved' };
			return;
		}
		this.inFlight = this.send().finally(() => (this.inFlight = undefined));
		await this.inFlight;
		if (this.refused !== undefined) {
			const revision = this.refused;
			this.refused = undefined;
			await this.document.behind?.(revision);
		}
	}

	/** Resolves when no call is under way. */
	async rest(): Promise<void> {
		while (this.inFlight) await this.inFlight;
	}

	/** The document is another one now, as it was saved. */
	reset(): void {
		this.state = { kind: 'saved' };
	}

	/** Somebody has saved a newer revision: nothing is sent until reset. */
	overtaken(revision: number): void {
		this.state = { kind: 'stale', revision };
	}

	private later(ms: number): void {
		clearTimeout(this.timer);
		this.timer = setTimeout(() => void this.flush(), ms);
	}

	private async send(): Promise<void> {
		try {
			await this.document.send();
			this.retry = FIRST_RETRY_MS;
			this.state = { kind: this.document.unsaved ? 'saving' : 'saved' };
			if (this.document.unsaved) this.later(WAIT_MS);
		} catch (error) {
			if (error instanceof Refused && error.status === 409) {
				this.refused = error.revision ?? 0;
				return this.overtaken(this.refused);
			}
			this.failed(error);
		}
	}

	/** A try came to nothing; there will be another, a while later than the one before. */
	failed(error: unknown): void {
		this.state = { kind: 'failed', message: error instanceof Error ? error.message : String(error) };
		this.later(this.retry);
		this.retry = Math.min(2 * this.retry, LAST_RETRY_MS);
	}
}
