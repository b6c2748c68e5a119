/** How far long work is. `stopped`: it was ended before its end, and shows what it had. */
export type WorkState =
	{ kind: 'idle' } | { kind: 'loading' } | { kind: 'ready' } | { kind: 'stopped' } | { kind: 'failed'; reason: string };

/** Work of which only the last that was begun counts: each beginning gives up what was under way. */
export class LatestWork {
	private under?: AbortController;

	/** The signal of new work; the work before it is aborted. */
	begin(): AbortSignal {
		this.under?.abort();
		this.under = new AbortController();
		return this.under.signal;
	}

	/** Gives up what is under way. */
	end(): void {
		this.under?.abort();
		this.under = undefined;
	}
}

/** The state that failed work is in; undefined where it was given up, for then other work tells. */
export function failedState(error: unknown, signal: AbortSignal): WorkState | undefined {
	if (signal.aborted) return undefined;
	return { kind: 'failed', reason: error instanceof Error ? error.message : String(error) };
}
