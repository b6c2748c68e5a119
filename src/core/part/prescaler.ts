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

/** So many ratios of one prescaler are looked through; of more, see ratiosOf. */
const MOST = 2 ** 20;
/** Of a longer row all up to here, and so many to an octave above. */
const DENSE = 2 ** 16;
const OCTAVE = 2 ** 15;

/**
 * The ratios the prescaler can make, distinct and ascending; not to be written to. A ladder's ratio 0 means stopped and is
 * none. Of a linear prescaler of more than 2^20 those up to 2^16 and 2^15 evenly spaced ones to each octave above, the last among
 * them; stages of a chain that would make more than 2^20 products are thinned out likewise.
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
			return canMake(prescaler.stages, ratio) ? null : undefined;
	}
}

/** A stage of a prescaler as it is set: its ratio, and what its register holds; null where it has none. */
export interface StageSetting {
	ratio: number;
	code: number | null;
	/** Of its register in bits. */
	width: number;
}

/** How each stage is set for a ratio, the first of a chain as small as can be; undefined where it cannot be made. */
export function stagesFor(prescaler: Prescaler, ratio: number): StageSetting[] | undefined {
	if (prescaler.kind !== 'chain') {
		const code = prescaleCode(prescaler, ratio);
		return code === undefined ? undefined : [{ ratio, code, width: codeWidth(prescaler) }];
	}
	return chainFor(prescaler.stages, ratio);
}

function chainFor([first, ...rest]: readonly Prescaler[], ratio: number): StageSetting[] | undefined {
	if (first === undefined) return ratio === 1 ? [] : undefined;
	for (const part of divisors(ratio).sort((a, b) => a - b)) {
		const own = stagesFor(first, part);
		const others = own && chainFor(rest, ratio / part);
		if (own && others) return [...own, ...others];
	}
	return undefined;
}

/** Bits that hold every code of a prescaler that is no chain. */
function codeWidth(prescaler: Exclude<Prescaler, { kind: 'chain' }>): number {
	const most =
		prescaler.kind === 'linear'
			? prescaler.max - 1
			: prescaler.kind === 'ladder'
				? Math.max(...prescaler.steps.map(({ code }) => code))
				: 0;
	return Math.max(1, Math.ceil(Math.log2(most + 1)));
}

/** Can stages in a row make a ratio? Each divides what is left of it. */
function canMake([first, ...rest]: readonly Prescaler[], ratio: number): boolean {
	if (first === undefined) return ratio === 1;
	if (rest.length === 0) return prescaleCode(first, ratio) !== undefined;
	return divisors(ratio).some((part) => prescaleCode(first, part) !== undefined && canMake(rest, ratio / part));
}

function divisors(whole: number): number[] {
	if (!Number.isInteger(whole) || whole < 1) return [];
	const found: number[] = [];
	for (let i = 1; i * i <= whole; i++) if (whole % i === 0) found.push(i, whole / i);
	return found;
}

function wholesTo(last: number): Float64Array {
	const made = linear.get(last);
	if (made) return made;
	const all = last <= MOST ? Float64Array.from({ length: last }, (_, i) => i + 1) : spreadTo(last);
	linear.set(last, all);
	return all;
}

/** 1 .. DENSE, then OCTAVE even steps to each octave, and `last`. */
function spreadTo(last: number): Float64Array {
	const all: number[] = [];
	for (let i = 1; i <= DENSE && i <= last; i++) all.push(i);
	for (let from = DENSE; from < last; from *= 2)
		for (let i = 1, step = from / OCTAVE; i <= OCTAVE && from + i * step <= last; i++) all.push(from + i * step);
	if (all[all.length - 1] !== last) all.push(last);
	return Float64Array.from(all);
}

/** All products of two ascending rows; the longer row is thinned out while there would be too many. */
function products(a: Float64Array, b: Float64Array): Float64Array {
	while (a.length * b.length > MOST)
		if (a.length > b.length) a = thinned(a);
		else b = thinned(b);
	const all = new Float64Array(a.length * b.length);
	for (let i = 0; i < a.length; i++) for (let j = 0; j < b.length; j++) all[i * b.length + j] = a[i] * b[j];
	return distinct(all);
}

/** About half of an ascending row: the lower quarter whole, of the rest each third, and the last. */
function thinned(row: Float64Array): Float64Array {
	const whole = row.length / 4;
	return row.filter((_, i) => i < whole || (row.length - 1 - i) % 3 === 0);
}

function distinct(values: ArrayLike<number>): Float64Array {
	const sorted = Float64Array.from(values).sort();
	return sorted.filter((value, i) => i === 0 || value !== sorted[i - 1]);
}
