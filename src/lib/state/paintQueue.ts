/** A frame paints for so long; what is left waits for the next, so that no task holds the page up. */
const BUDGET_MS = 28;

const waiting = new Map<object, () => void>();
let asked = false;

/** Paints with the next frame; a later painting of the same owner takes the place of an earlier one. Returns what takes it back. */
export function paintSoon(owner: object, paint: () => void): () => void {
	waiting.delete(owner);
	waiting.set(owner, paint);
	ask();
	return () => {
		if (waiting.get(owner) === paint) waiting.delete(owner);
	};
}

function ask(): void {
	if (asked) return;
	asked = true;
	requestAnimationFrame(() => {
		asked = false;
		const begun = performance.now();
		for (const [owner, paint] of waiting) {
			waiting.delete(owner);
			paint();
			if (performance.now() - begun > BUDGET_MS) break;
		}
		if (waiting.size > 0) ask();
	});
}
