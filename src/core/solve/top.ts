import {
	type Bounds,
	compareError,
	errorSize,
	REACH,
	targetOf,
	toCandidate,
	type PeriodCandidate,
	type PeriodWish,
	type RatioTable,
	type Target
} from './candidates.js';

/** The best pairs of a wish, and how many of all pairs hit it exactly. */
export interface PeriodTop {
	best: PeriodCandidate[];
	exact: number;
}

export interface TopOptions extends Bounds {
	/** How many to keep, 1 or more. */
	keep: number;
}

/**
 * The `keep` best of all (prescale, reload) pairs by |error|, then the larger T, then the smaller P (timers.md 10),
 * with proof: a pair is left out only when `keep` pairs stand before it.
 *
 * A pair is a product N = P x u near the target x. Prescales are visited from x / uMax on, so that the first already
 * reach x; from then on a window around x holds every N that can still enter, and one multiply tells whether
 * a prescale has a multiple in it.
 */
export function topPeriods(wish: PeriodWish, table: RatioTable, options: TopOptions): PeriodTop {
	const target = targetOf(wish, options);
	const heap = new BestPairs(target, options.keep);
	const { ratios } = table;
	const first = firstReaching(ratios, target.whole / target.uMax);
	for (let i = first; i < ratios.length && ratios[i] * target.uMin <= heap.high; i++) visit(table, i, target, heap);
	for (let i = first - 1; i >= 0 && ratios[i] * target.uMax >= heap.low; i--) visit(table, i, target, heap);
	const best = heap.sorted().map(({ prescale, u }) => toCandidate(wish, target, prescale, u));
	return { best, exact: heap.exact };
}

/** Offers the multiples of one prescale that lie in the window, nearest to the target first on each side. */
function visit(table: RatioTable, i: number, target: Target, heap: BestPairs): void {
	const p = table.ratios[i];
	const reach = Math.min(target.uMax, Math.floor(heap.high * table.inverses[i]));
	// Rounding can lose only a multiple within 1 of the upper end, and the window is wider than that. Most prescales end here: their largest multiple below the window's upper end lies below its lower end.
	if (reach * p < heap.low || reach < target.uMin) return;
	const middle = Math.floor((target.whole + 0.5) * table.inverses[i]);
	const down = Math.min(middle, target.uMax);
	for (let u = down; u >= target.uMin && u * p >= heap.low; u--) heap.offer(p, u);
	for (let u = Math.max(down + 1, target.uMin); u <= target.uMax && u * p <= heap.high; u++) heap.offer(p, u);
}

/** Index of the first ratio of at least `least`, or the last index. */
function firstReaching(ratios: Float64Array, least: number): number {
	let low = 0;
	let high = ratios.length - 1;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (ratios[middle] >= least) high = middle;
		else low = middle + 1;
	}
	return low;
}

interface Pair {
	prescale: number;
	u: number;
	product: number;
	size: number;
}

/** The best pairs so far, worst on top of a heap, and the window of products that can still enter: low..high, both included. */
class BestPairs {
	low = 0;
	high = REACH;
	exact = 0;
	private readonly pairs: Pair[] = [];

	constructor(
		private readonly target: Target,
		private readonly keep: number
	) {}

	offer(prescale: number, u: number): void {
		const product = prescale * u;
		if (this.target.exact && product === this.target.whole) this.exact++;
		const pair = { prescale, u, product, size: errorSize(this.target, product) };
		const { pairs } = this;
		if (pairs.length < this.keep) {
			pairs.push(pair);
			this.rise(pairs.length - 1);
			if (pairs.length === this.keep) this.narrow();
		} else if (this.order(pair, pairs[0]) < 0) {
			pairs[0] = pair;
			this.sink();
			this.narrow();
		}
	}

	sorted(): Pair[] {
		return [...this.pairs].sort((a, b) => this.order(a, b));
	}

	/** Negative when a stands before b. */
	private order(a: Pair, b: Pair): number {
		return compareError(this.target, a.product, b.product, a.size, b.size) || b.u - a.u || a.prescale - b.prescale;
	}

	/** The window of N with error no larger than the worst kept: x/(1+e) .. x/(1-e), widened past any rounding. */
	private narrow(): void {
		const { size: e, product } = this.pairs[0];
		const x = this.target.whole + this.target.frac;
		const slack = 1 + x * 1e-14;
		this.low = Math.floor(x / (1 + e) - slack);
		this.high = e < 1 ? Math.min(REACH, Math.ceil(x / (1 - e) + slack)) : REACH;
		// Above the target the error only grows: what is larger than the worst kept cannot enter, however the error is rounded.
		if (product > x) this.high = Math.min(this.high, product);
	}

	private rise(at: number): void {
		const { pairs } = this;
		while (at > 0) {
			const parent = (at - 1) >> 1;
			if (this.order(pairs[at], pairs[parent]) <= 0) return;
			[pairs[at], pairs[parent]] = [pairs[parent], pairs[at]];
			at = parent;
		}
	}

	private sink(): void {
		const { pairs } = this;
		for (let at = 0; ;) {
			let worst = at;
			for (const child of [2 * at + 1, 2 * at + 2]) if (child < pairs.length && this.order(pairs[child], pairs[worst]) > 0) worst = child;
			if (worst === at) return;
			[pairs[at], pairs[worst]] = [pairs[worst], pairs[at]];
			at = worst;
		}
	}
}
