import { Rational } from '../exact/index.js';

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
	private first = 0;
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

	/** Many values at once. */
	addAll(values: Float64Array): void {
		if (values.length === 0) return;
		if (this.count === 0) this.first = values[0];
		this.count += values.length;
		let { small, min, max, shifted, squares } = this;
		const { first } = this;
		for (let i = 0; i < values.length; i++) {
			const value = values[i];
			small += value;
			if (small > 2 ** 52) {
				this.small = small;
				this.flush();
				small = 0;
			}
			if (value < min) min = value;
			if (value > max) max = value;
			const d = value - first;
			shifted += d;
			squares += d * d;
		}
		Object.assign(this, { small, min, max, shifted, squares });
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

/** Sums fractions part/whole of integers, 0 < whole. Parts of one whole are added first, so few bigint steps are needed. */
export class FractionSum {
	count = 0;
	private readonly byWhole = new Map<number, number>();
	private exact = true;
	private approximate = 0;
	private carry = 0;
	private first = 0;
	private shifted = 0;
	private squares = 0;
	private min: [number, number] | undefined;
	private max: [number, number] | undefined;

	add(part: number, whole: number): void {
		this.count++;
		if (this.exact) {
			this.byWhole.set(whole, (this.byWhole.get(whole) ?? 0) + part);
			if (this.byWhole.size > EXACT_DENOMINATORS) this.exact = false;
		}
		const value = part / whole;
		const y = value - this.carry;
		const t = this.approximate + y;
		this.carry = t - this.approximate - y;
		this.approximate = t;
		// As of whole numbers: the spread shows only beside a value that is near.
		if (this.count === 1) this.first = value;
		const d = value - this.first;
		this.shifted += d;
		this.squares += d * d;
		if (!this.min || order(part, whole, this.min) < 0) this.min = [part, whole];
		if (!this.max || order(part, whole, this.max) > 0) this.max = [part, whole];
	}

	/** Many at once. */
	addAll(parts: Float64Array, wholes: Float64Array): void {
		let i = 0;
		while (i < parts.length && (this.exact || !this.min || !this.max)) this.add(parts[i], wholes[i++]);
		if (i === parts.length) return;
		this.count += parts.length - i;
		let { approximate, carry, shifted, squares } = this;
		const { first } = this;
		let [least, most] = [this.min![0] / this.min![1], this.max![0] / this.max![1]];
		for (; i < parts.length; i++) {
			const value = parts[i] / wholes[i];
			const y = value - carry;
			const t = approximate + y;
			carry = t - approximate - y;
			approximate = t;
			const d = value - first;
			shifted += d;
			squares += d * d;
			// A double that is no greater may still stand for the greater fraction: those are told apart exactly.
			if (value <= least && order(parts[i], wholes[i], this.min!) < 0) {
				this.min = [parts[i], wholes[i]];
				least = value;
			}
			if (value >= most && order(parts[i], wholes[i], this.max!) > 0) {
				this.max = [parts[i], wholes[i]];
				most = value;
			}
		}
		Object.assign(this, { approximate, carry, shifted, squares });
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
		let sum = Rational.zero;
		for (const [whole, parts] of this.byWhole) sum = sum.add(Rational.ratio(parts, whole));
		return sum.div(Rational.int(this.count));
	}
}

/** Sign of part/whole - other, exact: bigint where doubles could be wrong. */
function order(part: number, whole: number, [otherPart, otherWhole]: [number, number]): number {
	const d = part * otherWhole - otherPart * whole;
	if (Math.abs(d) > 1e-14 * Math.abs(part * otherWhole)) return d;
	const exact = BigInt(part) * BigInt(otherWhole) - BigInt(otherPart) * BigInt(whole);
	return exact < 0n ? -1 : exact > 0n ? 1 : 0;
}
