import { Rational } from '../exact/index.js';
import { kernels } from '../kernels/index.js';

/** Count, mean, least and greatest of a measured quantity, exact unless `rounded`; and its standard deviation, always rounded. */
export interface Statistics {
	count: number;
	mean: Rational;
	min: Rational;
	max: Rational;
	/** Standard deviation over the count (not count - 1), in the quantity's unit, rounded to a double. */
	deviation: number;
	/** True when the mean was rounded to 15 decimals: the sum of very many different fractions. */
	rounded: boolean;
}

/** Sums whole numbers exactly; `scale` turns a unit into the quantity shown. */
export class IntegerSum {
	count = 0;
	private sum = 0n;
	/** Carried in plain numbers until it could pass 2^53. */
	private small = 0;
	private min = Infinity;
	private max = -Infinity;
	/** Squares are of differences to it. */
	first = 0;
	private shifted = 0;
	private squares = 0;

	add(value: number): void {
		if (this.count === 0) this.first = value;
		this.count++;
		this.small += value;
		if (this.small > 2 ** 52) this.flush();
		if (value < this.min) this.min = value;
		if (value > this.max) this.max = value;
		// Squares of differences to the first value: the spread survives in doubles where plain squares would drown it.
		const d = value - this.first;
		this.shifted += d;
		this.squares += d * d;
	}

	/** Many values will be added by the loops of the machine itself: `first` is one of them if none came yet. */
	begin(first: number): void {
		if (this.count === 0) this.first = first;
	}

	/** What the loops go on from: sum, least, greatest, differences to the first and their squares, at `at`. */
	save(summed: Float64Array, at: number): void {
		summed.set([this.small, this.min, this.max, this.shifted, this.squares], at);
	}

	/** What they came to with so many values more. */
	load(summed: Float64Array, at: number, values: number): void {
		this.count += values;
		[this.small, this.min, this.max, this.shifted, this.squares] = summed.subarray(at, at + 5);
		if (this.small > 2 ** 52) this.flush();
	}

	result(scale: Rational): Statistics | null {
		if (this.count === 0) return null;
		this.flush();
		const mean = Rational.of(this.sum, BigInt(this.count)).mul(scale);
		const variance = Math.max(0, this.squares / this.count - (this.shifted / this.count) ** 2);
		return {
			count: this.count,
			mean,
			min: Rational.int(this.min).mul(scale),
			max: Rational.int(this.max).mul(scale),
			deviation: Math.sqrt(variance) * scale.toNumber(),
			rounded: false
		};
	}

	private flush(): void {
		this.sum += BigInt(this.small);
		this.small = 0;
	}
}

/** Beyond so many different denominators an exact mean costs more than it tells. */
const EXACT_DENOMINATORS = 512;

/** Sums beyond this are carried in bigints: below, a double and one more of its kind are exact. */
const EXACT_SUM = 2 ** 52;

/** Sums of parts by their whole, exact. */
class WholeSums {
	private readonly small = new Map<number, number>();
	private readonly large = new Map<number, bigint>();

	get size(): number {
		return this.small.size;
	}

	/** `sum`: at most twice `EXACT_SUM`. */
	add(whole: number, sum: number): void {
		const now = (this.small.get(whole) ?? 0) + sum;
		if (now > EXACT_SUM) this.large.set(whole, (this.large.get(whole) ?? 0n) + BigInt(now));
		this.small.set(whole, now > EXACT_SUM ? 0 : now);
	}

	total(): Rational {
		let sum = Rational.zero;
		for (const [whole, parts] of this.small) sum = sum.add(Rational.of((this.large.get(whole) ?? 0n) + BigInt(parts), BigInt(whole)));
		return sum;
	}
}

/** Sums fractions part/whole of integers, 0 < whole. Parts of one whole are added first, so few bigint steps are needed. */
export class FractionSum {
	count = 0;
	private readonly sums = new WholeSums();
	private exact = true;
	private approximate = 0;
	private carry = 0;
	private first = 0;
	private shifted = 0;
	private squares = 0;
	private min: [number, number] | undefined;
	private max: [number, number] | undefined;
	private readonly one = { part: new Float64Array(1), whole: new Float64Array(1) };

	add(part: number, whole: number): void {
		this.one.part[0] = part;
		this.one.whole[0] = whole;
		this.addAll(this.one.part, this.one.whole);
	}

	/** Many at once, as they lie in the memory of the loops. */
	addColumns(parts: Float64Array, wholes: Float64Array): void {
		const { code, summed } = kernels();
		const count = parts.length;
		if (this.count === 0) this.first = parts[0] / wholes[0];
		if (this.exact) this.addExact(parts, wholes);
		for (let done = 0; done < count;) {
			const [min, max] = [this.min, this.max];
			const least = min ? [min[0] / min[1], ...min] : [Infinity, 0, 0];
			const most = max ? [max[0] / max[1], ...max] : [-Infinity, 0, 0];
			summed.set([0, 0, 0, ...least, ...most]);
			const upTo = code.ratios(done, count, this.first);
			this.count += upTo - done;
			this.accumulate(summed[0]);
			this.shifted += summed[1];
			this.squares += summed[2];
			if (summed[3] !== Infinity) this.min = [summed[4], summed[5]];
			if (summed[6] !== -Infinity) this.max = [summed[7], summed[8]];
			// One that doubles cannot tell from the least or the greatest so far.
			if (upTo < count) this.addRatios(parts.subarray(upTo, upTo + 1), wholes.subarray(upTo, upTo + 1));
			done = upTo + 1;
		}
	}

	/** Many at once. */
	addAll(parts: Float64Array, wholes: Float64Array): void {
		if (parts.length === 0) return;
		// As of whole numbers: the spread shows only beside a value that is near.
		if (this.count === 0) this.first = parts[0] / wholes[0];
		if (this.exact) this.addExact(parts, wholes);
		this.addRatios(parts, wholes);
	}

	/** A compensated sum. */
	private accumulate(value: number): void {
		const y = value - this.carry;
		const t = this.approximate + y;
		this.carry = t - this.approximate - y;
		this.approximate = t;
	}

	private addRatios(parts: Float64Array, wholes: Float64Array): void {
		this.count += parts.length;
		let { approximate, carry, shifted, squares } = this;
		const { first } = this;
		let least = this.min ? this.min[0] / this.min[1] : Infinity;
		let most = this.max ? this.max[0] / this.max[1] : -Infinity;
		for (let i = 0; i < parts.length; i++) {
			const value = parts[i] / wholes[i];
			const y = value - carry;
			const t = approximate + y;
			carry = t - approximate - y;
			approximate = t;
			const d = value - first;
			shifted += d;
			squares += d * d;
			if (value <= least) {
				this.min = lesser(parts[i], wholes[i], this.min, 1);
				least = value;
			}
			if (value >= most) {
				this.max = lesser(parts[i], wholes[i], this.max, -1);
				most = value;
			}
		}
		Object.assign(this, { approximate, carry, shifted, squares });
	}

	/** The two wholes that came last are at hand: a period that is no whole number of steps takes turns between two. */
	private addExact(parts: Float64Array, wholes: Float64Array): void {
		let [newer, sum, older, olderSum] = [wholes[0], 0, 0, 0];
		for (let i = 0; i < parts.length; i++) {
			const whole = wholes[i];
			if (whole !== newer) {
				if (whole !== older && older !== 0) this.sums.add(older, olderSum);
				[newer, sum, older, olderSum] = [whole, whole === older ? olderSum : 0, newer, sum];
			}
			sum += parts[i];
			if (sum > EXACT_SUM) {
				this.sums.add(newer, sum);
				sum = 0;
			}
			if (this.sums.size > EXACT_DENOMINATORS) break;
		}
		if (older !== 0) this.sums.add(older, olderSum);
		this.sums.add(newer, sum);
		if (this.sums.size > EXACT_DENOMINATORS) this.exact = false;
	}

	result(scale: Rational): Statistics | null {
		if (!this.min || !this.max) return null;
		const average = this.approximate / this.count;
		const mean = this.exact ? this.exactMean() : Rational.of(BigInt(Math.round(average * 1e15)), 10n ** 15n);
		return {
			count: this.count,
			mean: mean.mul(scale),
			min: Rational.ratio(...this.min).mul(scale),
			max: Rational.ratio(...this.max).mul(scale),
			deviation: Math.sqrt(Math.max(0, this.squares / this.count - (this.shifted / this.count) ** 2)) * scale.toNumber(),
			rounded: !this.exact
		};
	}

	private exactMean(): Rational {
		return this.sums.total().div(Rational.int(this.count));
	}
}

/** The lesser of two fractions; of `sign` -1 the greater. A double that is no greater may still stand for the greater fraction: that is told exactly. */
function lesser(part: number, whole: number, other: [number, number] | undefined, sign: 1 | -1): [number, number] {
	if (!other) return [part, whole];
	if (part === other[0] && whole === other[1]) return other;
	return sign * order(part, whole, other) < 0 ? [part, whole] : other;
}

/** Sign of part/whole - other, exact: bigint where doubles could be wrong. */
function order(part: number, whole: number, [otherPart, otherWhole]: [number, number]): number {
	const d = part * otherWhole - otherPart * whole;
	if (Math.abs(d) > 1e-14 * Math.abs(part * otherWhole)) return d;
	const exact = BigInt(part) * BigInt(otherWhole) - BigInt(otherPart) * BigInt(whole);
	return exact < 0n ? -1 : exact > 0n ? 1 : 0;
}
