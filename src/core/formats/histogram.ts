import { kernels } from '../kernels/index.js';

/** How often values of a range come, in even bins. */
export interface Histogram {
	/** Where the first bin begins and the last one ends. */
	from: number;
	to: number;
	counts: number[];
	/** The two levels between which the values go to and fro, the lower first. */
	levels: [number, number];
}

const BINS = 512;

/** Counts values as they come; the range grows with them, twofold, so that no value is ever looked at again. */
export class HistogramBuilder {
	private from = 0;
	private width = 0;
	/** Of every bin how many values, and their sum. */
	private bins = new Float64Array(2 * BINS);
	private least = Infinity;
	private most = -Infinity;
	/** Equal values that came before any other. */
	private same = 0;

	/** A finite value, so many times. */
	add(value: number, times = 1): void {
		if (value < this.least) this.least = value;
		if (value > this.most) this.most = value;
		if (this.width === 0) {
			if (this.least === this.most) {
				this.same += times;
				return;
			}
			// Bins that a double cannot tell apart would never come to an end.
			const finest = Math.max(Math.abs(this.least), Math.abs(this.most)) * 2 ** -50;
			this.width = Math.max((2 * (this.most - this.least)) / BINS, finest, Number.MIN_VALUE * 2 ** 60);
			this.from = this.least - (BINS / 4) * this.width;
			this.put(this.least === value ? this.most : this.least, this.same);
		}
		this.put(value, times);
	}

	/** Many values; NaN and infinities among them do not count. */
	addAll(values: Float32Array): void {
		for (let i = 0; i < values.length;) {
			const inside = this.addInside(values, i);
			if (inside === i) {
				if (Number.isFinite(values[i])) this.add(values[i]);
				i++;
			} else i = inside;
		}
	}

	/** Values from one on that fall into the bins as they are. Returns the number of the first that does not. */
	private addInside(values: Float32Array, first: number): number {
		if (this.width === 0) return first;
		const { code, column, tally } = kernels();
		const count = Math.min(values.length - first, column.length);
		column.set(values.subarray(first, first + count));
		tally.set(this.bins);
		const inside = code.tally(count, this.from, 1 / this.width);
		this.bins.set(tally);
		this.least = Math.min(this.least, code.shortest.value);
		this.most = Math.max(this.most, code.longest.value);
		return first + inside;
	}

	/** The least and the greatest value; undefined when there were none. */
	get bounds(): [number, number] | undefined {
		return this.least <= this.most ? [this.least, this.most] : undefined;
	}

	/** Of the bins from the first to the last that holds a value; undefined for fewer than two different ones. */
	finish(): Histogram | undefined {
		if (this.width === 0) return undefined;
		const all = this.bins.filter((_, i) => i % 2 === 0);
		const sums = this.bins.filter((_, i) => i % 2 === 1);
		const [first, last] = [all.findIndex((count) => count > 0), all.findLastIndex((count) => count > 0)];
		const [from, to] = [Math.min(this.least, this.from + first * this.width), Math.max(this.most, this.from + (last + 1) * this.width)];
		const counts = [...all.subarray(first, last + 1)];
		return { from, to, counts, levels: twoLevels(counts, sums.subarray(first, last + 1), this.width, from) };
	}

	private put(value: number, times: number): void {
		let at = Math.floor((value - this.from) / this.width);
		while (at < 0 || at >= BINS) {
			this.grow(at < 0);
			at = Math.floor((value - this.from) / this.width);
		}
		this.bins[2 * at] += times;
		this.bins[2 * at + 1] += times * value;
	}

	/** Bins of twice the width: two become one, and as many are new on the side that is short. */
	private grow(below: boolean): void {
		const shift = below ? BINS / 2 : 0;
		const wide = new Float64Array(2 * BINS);
		this.bins.forEach((value, i) => (wide[2 * (shift + (i >> 2)) + (i % 2)] += value));
		if (below) this.from -= BINS * this.width;
		this.width *= 2;
		this.bins = wide;
	}
}

/** Rounds after which the two levels stand. */
const ROUNDS = 8;

/** The medians of the values to both sides of where they part best, and then of the middle between the two: a few outliers do not move them. */
function twoLevels(counts: readonly number[], sums: Float64Array, width: number, from: number): [low: number, high: number] {
	const middle = (i: number) => (counts[i] > 0 ? sums[i] / counts[i] : from + (i + 0.5) * width);
	const parting = bestCut(counts, middle);
	const median = (a: number, b: number) => middle(medianBin(counts, a, b));
	let [low, high] = [median(0, parting), median(parting, counts.length)];
	for (let round = 0; round < ROUNDS; round++) {
		const cut = Math.min(counts.length - 1, Math.max(1, Math.round(((low + high) / 2 - from) / width)));
		const next: [number, number] = [median(0, cut), median(cut, counts.length)];
		if (next[0] === low && next[1] === high) break;
		[low, high] = next;
	}
	return [low, high];
}

/** The bin before which values part into two classes that lie furthest apart, weighed by how many there are of each. */
function bestCut(counts: readonly number[], middle: (i: number) => number): number {
	let [all, total] = [0, 0];
	counts.forEach((count, i) => {
		all += count;
		total += count > 0 ? count * middle(i) : 0;
	});
	let [below, sum, best, cut] = [0, 0, -1, 1];
	for (let i = 0; i < counts.length - 1; i++) {
		below += counts[i];
		sum += counts[i] > 0 ? counts[i] * middle(i) : 0;
		const apart = sum / below - (total - sum) / (all - below);
		const spread = below * (all - below) * apart * apart;
		if (spread > best) [best, cut] = [spread, i + 1];
	}
	return cut;
}

function medianBin(counts: readonly number[], from: number, to: number): number {
	let total = 0;
	for (let i = from; i < to; i++) total += counts[i];
	let sum = 0;
	for (let i = from; i < to; i++) {
		sum += counts[i];
		if (2 * sum >= total && total > 0) return i;
	}
	return from;
}
