import { Rational, type Seconds } from '../../exact/index.js';
import { lastDigit, powerOfTen } from '../step.js';
import type { Dialect } from './dialect.js';
import { TEN } from './scan.js';
import { dateOrder, daysPassed, readClock, readDated, type DateOrder, type Moment } from './times.js';
import { plainCell, timeUnit, ungrouped } from './words.js';

/** Finest unit that times are kept in, and the one of recordings that last too long for it, or lie in the calendar. */
const PICO = -12;
const NANO = -9;
/** A picosecond counts as far as 9007 s; room is left for what comes behind the first lines. */
const LONG_S = 1000;
/** Times that begin so far from zero are counted from the first one on. */
const FAR_S = 100_000;
const GROUP = 1e9;

/** A time is out of the range that can be kept. */
export class TimeRange extends Error {}

/**
 * Turns the time cells of a file into whole units from an origin: plain numbers in the unit of their heading or of the cell, clock times,
 * dates. The unit is a picosecond, or a nanosecond for what lasts long.
 */
export class TimeCells {
	/** Power of ten of the unit, in seconds. */
	readonly unitExponent: number;
	/** From a written number to units. */
	readonly exponent: number;
	/** Times are counted from here, as it stands in the file; undefined: from zero. */
	readonly origin: string | undefined;
	/** The finest power of ten of a last digit among the times as written. */
	finest = Infinity;
	rounded = 0;
	private readonly kind: Dialect['timeKind'];
	private readonly order: DateOrder;
	/** The origin in units: hi x 10^9 + lo. */
	private originHi = 0;
	private originLo = 0;
	private dayBefore = -Infinity;
	private passed = 0;
	private readonly ungroup: (number: string) => string;

	constructor(
		private readonly dialect: Dialect,
		order?: DateOrder
	) {
		this.kind = dialect.timeKind;
		this.order = order ?? dateOrder(dialect.times) ?? 'month-first';
		this.ungroup = ungrouped(dialect.thousands);
		const seconds = dialect.times.map((cell) => this.roughly(cell)).filter(Number.isFinite);
		const [first = 0, last = 0] = [seconds[0], seconds.at(-1)];
		const far = this.kind === 'dated' || Math.abs(first) > FAR_S;
		this.unitExponent = this.kind !== 'number' || far || Math.abs(last - first) > LONG_S ? NANO : PICO;
		this.exponent = dialect.timeExponent - this.unitExponent;
		this.origin = far ? dialect.times[0] : undefined;
		if (!far) return;
		const moment = this.momentOf(dialect.times[0]);
		if (moment) this.limbs(moment, true);
	}

	/** Are plain numbers all that it takes? */
	get plain(): boolean {
		return this.kind === 'number' && this.origin === undefined && this.dialect.thousands === '';
	}

	get unit(): Seconds {
		return powerOfTen(this.unitExponent);
	}

	/** What the times' last digit is worth (timers.md 11). */
	get lastDigit(): Seconds {
		return powerOfTen(this.finest + (this.kind === 'number' ? this.dialect.timeExponent : 0));
	}

	/** A scanned number, mantissa x 10^power, as units, where numbers are plain. Throws TimeRange. */
	ofNumber(mantissa: number, power: number): number {
		if (power < this.finest) this.finest = power;
		const shift = power + this.exponent;
		const time =
			shift >= 0 && shift < 23 ? mantissa * TEN[shift] : shift < 0 && shift > -23 ? mantissa / TEN[-shift] : mantissa === 0 ? 0 : NaN;
		return this.whole(time);
	}

	/** Any time cell as units; undefined for one that is no time. Throws TimeRange. */
	ofText(text: string): number | undefined {
		const cell = plainCell(text);
		const moment = this.momentOf(cell);
		if (moment) {
			this.finest = Math.min(this.finest, -moment.fraction.length);
			return this.limbs(moment, false);
		}
		return this.kind === 'number' ? this.slowly(cell) : undefined;
	}

	private momentOf(cell: string): Moment | undefined {
		if (this.kind === 'dated') return readDated(cell, this.order);
		if (this.kind === 'clock') return this.passingDays(readClock(cell));
		const bare = this.ungroup(cell);
		const found = /^([+-]?)(\d{1,24})(?:[.,](\d*))?$/.exec(bare);
		if (!found || bare.includes(this.dialect.decimal === '.' ? ',' : '.')) return undefined;
		return { whole: 0, fraction: found[3] ?? '', negative: found[1] === '-', digits: found[2] };
	}

	private passingDays(moment: Moment | undefined): Moment | undefined {
		if (!moment) return undefined;
		this.passed += daysPassed(this.dayBefore, moment.whole);
		this.dayBefore = moment.whole;
		return { ...moment, whole: moment.whole + this.passed };
	}

	/** A decimal as units in two limbs of nine digits and the rest, less the origin. */
	private limbs(moment: Moment, asOrigin: boolean): number {
		const digits = moment.digits ?? String(Math.abs(moment.whole));
		const shift = this.kind === 'number' ? this.exponent : -this.unitExponent;
		const { fraction } = moment;
		const kept = shift >= 0 ? digits + fraction.slice(0, shift).padEnd(shift, '0') : digits.slice(0, shift) || '0';
		const rest = shift >= 0 ? fraction.slice(shift) : digits.slice(shift) + fraction;
		const sign = moment.negative || moment.whole < 0 ? -1 : 1;
		let hi = sign * Number(kept.slice(0, -9) || '0');
		let lo = sign * Number(kept.slice(-9));
		if (/[1-9]/.test(rest)) {
			if (!asOrigin) this.rounded++;
			if (rest[0] >= '5') lo += sign;
		}
		if (asOrigin) {
			this.originHi = hi;
			this.originLo = lo;
			return 0;
		}
		hi -= this.originHi;
		lo -= this.originLo;
		const time = hi * GROUP + lo;
		if (!(Math.abs(time) <= Number.MAX_SAFE_INTEGER)) throw new TimeRange();
		return time + 0;
	}

	/** Numbers with exponents or units of their own. */
	private slowly(cell: string): number | undefined {
		const measured = /^(.*?[\d.,])\s*([a-zµμ]+)$/i.exec(cell);
		const own = measured && !/[eE]$/.test(measured[1]) ? timeUnit(measured[2]) : undefined;
		const bare = this.ungroup(own === undefined ? cell : measured![1]).replace(this.dialect.decimal, '.');
		const written = /\//.test(bare) ? undefined : Rational.tryParse(bare);
		if (!written) return undefined;
		const exponent = own ?? this.dialect.timeExponent;
		this.finest = Math.min(this.finest, lastDigit(bare) + exponent - this.dialect.timeExponent);
		const origin = Rational.of(BigInt(this.originHi) * 1_000_000_000n + BigInt(this.originLo));
		const time = written.mul(powerOfTen(exponent - this.unitExponent)).sub(origin);
		if (time.abs().compare(Rational.int(Number.MAX_SAFE_INTEGER)) > 0) throw new TimeRange();
		if (!time.isInteger) this.rounded++;
		return Number(time.roundHalfUp());
	}

	private whole(time: number): number {
		if (!(Math.abs(time) <= Number.MAX_SAFE_INTEGER)) throw new TimeRange();
		if (Number.isInteger(time)) return time;
		this.rounded++;
		return Math.round(time);
	}

	/** Seconds, for choosing unit and origin. */
	private roughly(cell: string): number {
		if (this.kind === 'dated') return readDated(cell, this.order)?.whole ?? NaN;
		if (this.kind === 'clock') return readClock(cell)?.whole ?? NaN;
		const bare = this.ungroup(cell).replace(this.dialect.decimal, '.');
		return Number(bare) * 10 ** this.dialect.timeExponent;
	}
}
