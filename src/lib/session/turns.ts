import { flushSync } from 'svelte';

/** Work goes on for so long before the page gets a turn at other things: a key, a press or a frame comes before what follows. */
const SLICE_MS = 12;

const waiting = new Set<() => void>();
let over: Promise<void> | undefined;

/** Lets the browser do what waits. */
export function nextTurn(): Promise<void> {
	return new Promise((resolve) => setTimeout(resolve));
}

/** Does work that can rest anywhere, in slices that hold nothing up, after what is under way. `ended`: it is no longer wanted, and comes to nothing. */
export async function inSlices<T>(work: Generator<void, T, void>, ended = () => false): Promise<T | undefined> {
	await nextTurn();
	for (let begun = performance.now(); !ended();) {
		const { done, value } = work.next();
		if (done) return value;
		if (performance.now() - begun < SLICE_MS) continue;
		await nextTurn();
		begun = performance.now();
	}
	return undefined;
}

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
