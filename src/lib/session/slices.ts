/** Work goes on for so long before others get a turn: a key, a press, a frame or a request comes before what follows. */
export const SLICE_MS = 12;

/** Lets everything else that waits have its turn. */
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
