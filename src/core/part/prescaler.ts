/** Prescalers (timers.md 2). */
export type Prescaler =
	| { kind: 'linear'; max: number }
	| { kind: 'ladder'; steps: { ratio: number; code: number }[] }
	| { kind: 'fixed'; ratio: number }
	| { kind: 'chain'; stages: Prescaler[] };

/** Ratios by the prescaler they are of: a part's profile never changes. */
const known = new WeakMap<Prescaler, Float64Array>();
/** Those of linear prescalers, of which a part has many alike, by their last. */
const linear = new Map<number, Float64Array>();

/**
 * Every ratio the prescaler can make, distinct and ascending; not to be written to. A ladder's ratio 0 means stopped and is
 * none. Throws RangeError when a chain makes more than 2^22 products.
 */
export function ratiosOf(prescaler: Prescaler): Float64Array {
	const ratios = known.get(prescaler) ?? makeRatios(prescaler);
	known.set(prescaler, ratios);
	return ratios;
}

function makeRatios(prescaler: Prescaler): Float64Array {
	switch (prescaler.kind) {
		case 'linear':
			return wholesTo(prescaler.max);
		case 'fixed':
			return Float64Array.of(prescaler.ratio);
		case 'ladder':
			return distinct(prescaler.steps.map((s) => s.ratio).filter((r) => r > 0));
		case 'chain':
			return prescaler.stages.map(ratiosOf).reduce(products, Float64Array.of(1));
	}
}

/** What the register holds for a ratio: ratio - 1 for linear, the code for a ladder, nothing for fixed; undefined when it cannot be made. */
export function prescaleCode(prescaler: Prescaler, ratio: number): number | null | undefined {
	switch (prescaler.kind) {
		case 'linear':
			return Number.isInteger(ratio) && ratio >= 1 && ratio <= prescaler.max ? ratio - 1 : undefined;
		case 'fixed':
			return ratio === prescaler.ratio ? null : undefined;
		case 'ladder':
			return prescaler.steps.find((s) => s.ratio === ratio)?.code;
		case 'chain':
			return ratiosOf(prescaler).includes(ratio) ? null : undefined;
	}
}

function wholesTo(last: number): Float64Array {
	const made = linear.get(last);
	if (made) return made;
	const all = new Float64Array(last);
	for (let i = 0; i < last; i++) all[i] = i + 1;
	linear.set(last, all);
	return all;
}

function products(a: Float64Array, b: Float64Array): Float64Array {
	if (a.length * b.length > 2 ** 22) throw new RangeError(`a chain of ${a.length * b.length} products is too long`);
	const all = new Float64Array(a.length * b.length);
	for (let i = 0; i < a.length; i++) for (let j = 0; j < b.length; j++) all[i * b.length + j] = a[i] * b[j];
	return distinct(all);
}

function distinct(values: ArrayLike<number>): Float64Array {
	const sorted = Float64Array.from(values).sort();
	return sorted.filter((value, i) => i === 0 || value !== sorted[i - 1]);
}
