/**
 * Exact rationals over bigint: every rate, time and ratio of the core until the moment it is shown
 * (timers.md, notation). Always in lowest terms with a positive denominator.
 */
export class Rational {
	private constructor(
		readonly num: bigint,
		readonly den: bigint
	) {}

	static readonly zero = new Rational(0n, 1n);
	static readonly one = new Rational(1n, 1n);

	/** num/den in lowest terms. Throws RangeError when den is 0. */
	static of(num: bigint, den = 1n): Rational {
		if (den === 0n) throw new RangeError(`rational ${num}/0 has no value`);
		if (den < 0n) {
			num = -num;
			den = -den;
		}
		if (den === 1n) return new Rational(num, 1n);
		const g = gcd(num < 0n ? -num : num, den);
		return g === 1n ? new Rational(num, den) : new Rational(num / g, den / g);
	}

	/** From a safe integer. Throws RangeError for anything else: a float carries no exact value. */
	static int(value: number): Rational {
		if (!Number.isSafeInteger(value)) throw new RangeError(`${value} is no safe integer`);
		return new Rational(BigInt(value), 1n);
	}

	/** a/b of two safe integers. */
	static ratio(a: number, b: number): Rational {
		return Rational.of(Rational.int(a).num, Rational.int(b).num);
	}

	/** Reads "num/den", "num" or a decimal such as "-1.25e-3". Throws SyntaxError on any other text. */
	static parse(text: string): Rational {
		const value = Rational.tryParse(text);
		if (!value) throw new SyntaxError(`"${text}" is no rational; "3/8", "12" or "1.25e-3" would be`);
		return value;
	}

	/** As parse, but undefined on a text that is no rational. The exponent is bounded to 4 digits. */
	static tryParse(text: string): Rational | undefined {
		const fraction = /^\s*([+-]?\d+)\s*\/\s*(\d+)\s*$/.exec(text);
		if (fraction) {
			const den = BigInt(fraction[2]);
			return den === 0n ? undefined : Rational.of(BigInt(fraction[1]), den);
		}
		const decimal = /^\s*([+-]?)(\d*)(?:\.(\d*))?(?:[eE]([+-]?\d{1,4}))?\s*$/.exec(text);
		if (!decimal) return undefined;
		const [, sign, whole, part = '', exponent = '0'] = decimal;
		if (whole.length + part.length === 0) return undefined;
		const digits = BigInt(sign + whole + part);
		const shift = Number(exponent) - part.length;
		return shift >= 0 ? new Rational(digits * 10n ** BigInt(shift), 1n) : Rational.of(digits, 10n ** BigInt(-shift));
	}

	add(b: Rational): Rational {
		if (this.den === b.den) return Rational.of(this.num + b.num, this.den);
		return Rational.of(this.num * b.den + b.num * this.den, this.den * b.den);
	}

	sub(b: Rational): Rational {
		return this.add(b.neg());
	}

	mul(b: Rational): Rational {
		return Rational.of(this.num * b.num, this.den * b.den);
	}

	/** Throws RangeError when b is 0. */
	div(b: Rational): Rational {
		return Rational.of(this.num * b.den, this.den * b.num);
	}

	neg(): Rational {
		return new Rational(-this.num, this.den);
	}

	abs(): Rational {
		return this.num < 0n ? this.neg() : this;
	}

	/** 1/this. Throws RangeError for 0. */
	inverse(): Rational {
		return Rational.of(this.den, this.num);
	}

	/** Negative, zero or positive, as this is below, at or above b. */
	compare(b: Rational): number {
		const d = this.num * b.den - b.num * this.den;
		return d < 0n ? -1 : d > 0n ? 1 : 0;
	}

	equals(b: Rational): boolean {
		return this.num === b.num && this.den === b.den;
	}

	get sign(): number {
		return this.num < 0n ? -1 : this.num > 0n ? 1 : 0;
	}

	get isInteger(): boolean {
		return this.den === 1n;
	}

	floor(): bigint {
		const q = this.num / this.den;
		return this.num % this.den < 0n ? q - 1n : q;
	}

	/** Nearest integer; a tie goes up (timers.md 10). */
	roundHalfUp(): bigint {
		return Rational.of(2n * this.num + this.den, 2n * this.den).floor();
	}

	/** Nearest double: for charts and pixels only, never for a further decision. */
	toNumber(): number {
		const a = this.num < 0n ? -this.num : this.num;
		const shift = bitLength(a) - bitLength(this.den);
		if (Math.abs(shift) < 900 && bitLength(a) < 1000 && bitLength(this.den) < 1000) return Number(this.num) / Number(this.den);
		const scaled = shift > 64 ? this.num / this.den : (this.num << BigInt(64 - shift)) / this.den;
		return shift > 64 ? Number(scaled) : Number(scaled) * 2 ** (shift - 64);
	}

	/** "num/den", the denominator always written. */
	toString(): string {
		return `${this.num}/${this.den}`;
	}

	toJSON(): string {
		return this.toString();
	}
}

/** Greatest common divisor of two non-negative integers. */
export function gcd(a: bigint, b: bigint): bigint {
	while (b !== 0n) {
		// Two words or fewer: plain numbers are some ten times faster than bigint.
		if (a <= MAX_SAFE && b <= MAX_SAFE) return BigInt(gcdSafe(Number(a), Number(b)));
		[a, b] = [b, a % b];
	}
	return a;
}

/** Greatest common divisor of two non-negative safe integers. */
export function gcdSafe(a: number, b: number): number {
	while (b !== 0) [a, b] = [b, a % b];
	return a;
}

const MAX_SAFE = BigInt(Number.MAX_SAFE_INTEGER);

function bitLength(a: bigint): number {
	return a.toString(16).length * 4;
}
