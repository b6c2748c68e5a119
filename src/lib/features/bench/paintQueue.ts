/** A frame paints for so long; what is left comes first in the next, so that no task holds the page up and no lane is passed over. */
const BUDGET_MS = 14;

const waiting = new Map<object, () => void>();
let asked = false;

/** Paints with the next frame; a later painting of the same owner takes the place of an earlier one in the queue. */
export function paintSoon(owner: object, paint: () => void): void {
	waiting.set(owner, paint);
	ask();
}

/** Takes back what an owner that goes away has asked for. */
export function paintNoMore(owner: object): void {
	waiting.delete(owner);
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
