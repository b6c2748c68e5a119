import { flushSync } from 'svelte';
import { nextTurn, SLICE_MS } from './slices.js';

const waiting = new Set<() => void>();
let over: Promise<void> | undefined;

/** Puts a part of the page up when its turn comes, in the order of asking. Returns what takes it back. */
export function inTurn(show: () => void): () => void {
	waiting.add(show);
	over ??= takeTurns();
	return () => waiting.delete(show);
}

/** Resolves when all that asked for a turn has had it. */
export async function turnsOver(): Promise<void> {
	await over;
}

async function takeTurns(): Promise<void> {
	await nextTurn();
	let begun = performance.now();
	try {
		for (const show of waiting) {
			waiting.delete(show);
			show();
			// What it shows is part of its turn, and may ask for turns of its own.
			flushSync();
			if (performance.now() - begun < SLICE_MS) continue;
			await nextTurn();
			begun = performance.now();
		}
	} finally {
		// One that fails is told, and takes nothing from the others.
		over = waiting.size > 0 ? takeTurns() : undefined;
	}
}
