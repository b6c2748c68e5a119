/** Looks into a prescaler's ratios, which may be tens of thousands. */
const spread = new WeakMap<Float64Array, number[]>();
const FEW = 12;

/** Of a long ascending list those that double and the last; a short one whole. Made once for a list. */
export function spreadRatios(ratios: Float64Array): readonly number[] {
	const known = spread.get(ratios);
	if (known) return known;
	const last = ratios[ratios.length - 1];
	const all = ratios.length <= FEW ? [...ratios] : [...ratios.filter((ratio) => Number.isInteger(Math.log2(ratio)) || ratio === last)];
	spread.set(ratios, all);
	return all;
}

/** The first of an ascending list for which something holds that holds for all after it; undefined: for none. */
export function firstRatio(ratios: ArrayLike<number>, holds: (ratio: number) => boolean): number | undefined {
	let [from, to] = [0, ratios.length];
	while (from < to) {
		const middle = (from + to) >> 1;
		if (holds(ratios[middle])) to = middle;
		else from = middle + 1;
	}
	return ratios[from];
}
