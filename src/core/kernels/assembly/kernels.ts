/**
 * The innermost loops over bytes, samples and edges, for the machine itself: a script's own loop costs several times as much a byte. Compiled
 * by tools/kernels.mjs into ../code.ts. Nothing outlives a call but what its caller put into the memory and reads out of it.
 *
 * The memory: bytes or numbers to work on, columns of a line each, and what a call found.
 */

/** Bytes of a piece that one call works on, with room behind it for what is read ahead. */
export const PIECE: i32 = 1 << 18;
/** Lines that a call can feed, and edges that a line can get in it. */
export const LINES: i32 = 255;
export const EDGES: i32 = 2048;
/** Identifiers of one or two characters, as numbers of base 94 with digits 1..94. */
export const CODES: i32 = 94 * 95 + 1;
export const BINS: i32 = 512;

/** Where what lies. */
export const INPUT: usize = 4096;
export const COLUMN: usize = INPUT + 2 * PIECE + 64;
/** Of every line: edges found, the level with which they begin, the level now; 2 where none came. */
export const COUNTS: usize = COLUMN + 2 * PIECE;
export const FIRSTS: usize = COUNTS + 1024;
export const LEVELS: usize = FIRSTS + 256;
/** The lines that got edges, in the order in which they did. */
export const FED: usize = LEVELS + 256;
/** The line of an identifier, and one more; 0 for those that may not be fed. */
export const OPEN: usize = FED + 256;
export const TALLY: usize = OPEN + 9216;
const TURNS: usize = TALLY + 16 * BINS;
export const TIMES: usize = TURNS + 64 * BINS;
/** The times of the rows before those of the edges. */
export const BEFORES: usize = TIMES + 8 * LINES * EDGES;
/** How often each value of one or two bytes came, of as many channels as a file of samples can have. */
export const VALUES: usize = BEFORES + 8 * LINES * EDGES;
export const CHANNELS: i32 = 64;
export const MEMORY: usize = VALUES + 262144 * CHANNELS;
/** Periods and high widths, as 64-bit floats, and of each quantity its sum, least, greatest, sum and squares of differences to its first. */
export const PERIODS: usize = TIMES;
export const HIGHS: usize = PERIODS + PIECE;
export const SUMMED: usize = HIGHS + PIECE;

/** What the last call found beside its answer. */
let time: u64 = 0;
export let rows: i32 = 0;
export let fed: i32 = 0;
export let rounded: i32 = 0;
export let changes: i32 = 0;
export let places: i32 = 0;
export let shortest: f64 = 0;
export let longest: f64 = 0;
/** True when a line's column is full: what comes next is no different from what came before. */
export let full: bool = false;

const NEWLINE: u32 = 10;
const RETURN: u32 = 13;
const SPACE: u32 = 32;
/** Digits that 64 bits hold whatever they are, and those that a double holds. */
const MOST_DIGITS: i32 = 18;
const MOST: u64 = (1 << 53) - 1;

/** The time that the last call came to. */
export function reached(): f64 {
	return <f64>time;
}

function begin(from: u64): void {
	time = from;
	rows = fed = rounded = changes = places = 0;
	full = false;
	memory.fill(COUNTS, 0, 1024);
}

/** Adds a level of a line at a time; of several at one time the last stands. False when its column is full. */
// @ts-ignore: the compiler's own decorator
@inline
function put(line: u32, level: u32, now: f64): bool {
	const count = load<u32>(COUNTS + ((<usize>line) << 2));
	const next = TIMES + (<usize>line) * (8 * EDGES) + ((<usize>count) << 3);
	if (count == 0) {
		store<u8>(FIRSTS + line, level);
		store<u8>(FED + fed++, line);
	} else {
		if (load<u8>(LEVELS + line) == level) return true;
		if (load<f64>(next - 8) == now) {
			// Levels take turns: what the last edge undid stands again.
			store<u8>(LEVELS + line, level);
			if (count == 1) store<u8>(FIRSTS + line, level);
			else store<u32>(COUNTS + ((<usize>line) << 2), count - 1);
			return true;
		}
		if (count == EDGES) return false;
	}
	store<u8>(LEVELS + line, level);
	store<f64>(next, now);
	store<u32>(COUNTS + ((<usize>line) << 2), count + 1);
	return true;
}

/** The most edges that a line has got in this call. */
let most: u32 = 0;
/** The bits in which the digits 0 and 1 differ, of four cells with their separators. */
const LOWEST: u64 = 0x0100010001000100;
const EIGHTS: u64 = 0x3030303030303030;
const UPPER: u64 = 0xf0f0f0f0f0f0f0f0;
const TEN = StaticArray.fromArray<u64>([1, 10, 100, 1000, 10000, 100000, 1000000, 10000000, 100000000]);

/** Eight digits 0..9, the first in the lowest byte, as a number: pairs, then fours, then all by two products. */
// @ts-ignore: the compiler's own decorator
@inline
function eight(digits: u64): u64 {
	const pairs = digits * 10 + (digits >> 8);
	return ((pairs & 0x000000ff000000ff) * 0x000f424000000064 + ((pairs >> 16) & 0x000000ff000000ff) * 0x0000271000000001) >> 32;
}

/** Behind the last digit from p on. */
let digitsEnd: usize = 0;

/** The digits from p on as a number, on top of `told`; sets digitsEnd. More than 19 wrap around. */
// @ts-ignore: the compiler's own decorator
@inline
function number(p: usize, told: u64): u64 {
	for (;;) {
		const digits = load<u64>(p) ^ EIGHTS;
		// The lowest byte that is none has its upper half set, in itself or once six is added.
		const none = (digits | (digits + 0x0606060606060606)) & UPPER;
		if (none == 0) {
			told = told * 100000000 + eight(digits);
			p += 8;
			continue;
		}
		const count = <u32>(ctz(none) >> 3);
		digitsEnd = p + count;
		// Those there are stand highest, behind zeros.
		return count == 0 ? told : told * unchecked(TEN[count]) + eight(digits << (64 - (count << 3)));
	}
}

/**
 * Words of a dump's values in INPUT[at..end), behind which lies a blank: times, and 0 or 1 of an identifier of one or two characters that is open.
 * Returns where the first word begins that is none of them. `from`: the time so far; `coarser`: file's steps a kept one.
 */
export function words(at: usize, end: usize, from: f64, coarser: f64): usize {
	begin(<u64>from);
	const step = <u64>coarser;
	let now = from;
	let p = INPUT + at;
	const stop = INPUT + end;
	while (p < stop) {
		const byte: u32 = load<u8>(p);
		if (byte <= SPACE) {
			if (byte == NEWLINE) rows++;
			p++;
		} else if ((byte | 1) == 0x31) {
			const first: u32 = load<u8>(p + 1);
			if (first <= SPACE) break;
			let code = first - SPACE;
			let q = p + 2;
			const second: u32 = load<u8>(q);
			if (second > SPACE) {
				code += 94 * (second - SPACE);
				if (load<u8>(++q) > SPACE || code >= <u32>CODES) break;
			}
			const open: u32 = load<u8>(OPEN + code);
			if (open == 0) break;
			if (!put(open - 1, byte & 1, now)) {
				full = true;
				break;
			}
			p = q;
			if (load<u8>(p) == NEWLINE) {
				rows++;
				p++;
			}
		} else if (byte == 0x23) {
			const told = number(p + 1, 0);
			const q = digitsEnd;
			if (load<u8>(q) > SPACE || q == p + 1 || <i32>(q - p) - 1 > MOST_DIGITS) break;
			let kept = told;
			if (step > 1) {
				kept = (told + step / 2) / step;
				if (told % step != 0) rounded++;
			}
			if (kept < time || kept > MOST) {
				if (step > 1 && told % step != 0) rounded--;
				break;
			}
			now = <f64>kept;
			time = kept;
			p = q;
			if (load<u8>(p) == NEWLINE) {
				rows++;
				p++;
			}
		} else break;
	}
	return p - INPUT;
}

/**
 * Rows in INPUT[at..end), the last of them whole: a plain decimal time and a 0 or 1 for each of `lines` lines, whose levels now stand in
 * LEVELS (2: none). Returns where the first row begins that is none. `before`: the time of the row before; `exponent`: of ten, a second's units.
 */
export function levelRows(at: usize, end: usize, before: f64, lines: i32, separator: u32, decimal: u32, exponent: i32): usize {
	let from = <u64>before;
	begin(from);
	shortest = Infinity;
	longest = 0;
	most = 0;
	/** The cells of the row before, eight bytes for four lines at a time; of the last group only those that are cells. */
	let cells: usize = 0;
	const groups = (lines + 3) >> 2;
	const lastGroup: u64 = (lines & 3) == 0 ? u64.MAX_VALUE : (1 << (((lines & 3) as u64) << 4)) - 1;
	let p = INPUT + at;
	const stop = INPUT + end;
	while (p < stop) {
		let told = number(p, 0);
		let q = digitsEnd;
		let behind: i32 = 0;
		let digits = <i32>(q - p);
		if (load<u8>(q) == decimal) {
			told = number(q + 1, told);
			behind = <i32>(digitsEnd - q) - 1;
			q = digitsEnd;
			digits += behind;
		}
		const shift = exponent - behind;
		if (load<u8>(q) != separator || digits == 0 || shift < 0 || digits + shift > MOST_DIGITS) break;
		for (let i = 0; i < shift; i++) told *= 10;
		if (told <= from || told > MOST) break;
		if (most == <u32>EDGES) {
			full = true;
			break;
		}
		// A row whose cells are those of the one before but for 0 and 1 is whole as that one was.
		let changed = false;
		let other = false;
		if (cells != 0)
			for (let group = 0; group < groups; group++) {
				let unlike = load<u64>(q + 8 * group) ^ load<u64>(cells + 8 * group);
				if (group == groups - 1) unlike &= lastGroup;
				if ((unlike & ~LOWEST) != 0) other = true;
				changed = changed || unlike != 0;
			}
		const rowEnd = cells != 0 && !other ? lineEnd(q + 2 * lines) : levelCells(q, lines, separator);
		if (rowEnd == 0) break;
		if (cells == 0 || other) changed = putCells(q, lines, <f64>from, <f64>told);
		else if (changed)
			for (let group = 0; group < groups; group++) {
				let unlike = load<u64>(q + 8 * group) ^ load<u64>(cells + 8 * group);
				if (group == groups - 1) unlike &= lastGroup;
				for (; unlike != 0; unlike &= unlike - 1) {
					const line = (group << 2) + <i32>(ctz(unlike) >> 4);
					putCell(line, load<u8>(q + 2 * line + 1) & 1, <f64>from, <f64>told);
				}
			}
		if (changed) changes++;
		cells = q;
		const gap = <f64>(told - from);
		if (gap < shortest) shortest = gap;
		if (gap > longest) longest = gap;
		if (behind > places) places = behind;
		rows++;
		from = told;
		p = rowEnd;
	}
	time = from;
	return p - INPUT;
}

/** Behind the line end at p; 0 when there is none. */
// @ts-ignore: the compiler's own decorator
@inline
function lineEnd(p: usize): usize {
	const end = load<u8>(p) == RETURN ? p + 1 : p;
	return load<u8>(end) == NEWLINE ? end + 1 : 0;
}

/** Where the next row begins, if what follows a row's time is a 0 or 1 a line, separators between, and a line end; else 0. */
function levelCells(at: usize, lines: i32, separator: u32): usize {
	for (let line = 0; line < lines; line++) {
		const cell = at + 2 * line;
		if (load<u8>(cell) != separator || (load<u8>(cell + 1) | 1) != 0x31) return 0;
	}
	return lineEnd(at + 2 * lines);
}

/** Takes the cells of a row that is whole. Did one change? */
function putCells(at: usize, lines: i32, before: f64, now: f64): bool {
	let changed = false;
	for (let line = 0; line < lines; line++) {
		const level: u32 = load<u8>(at + 2 * line + 1) & 1;
		if (level == <u32>load<u8>(LEVELS + line)) continue;
		putCell(line, level, before, now);
		changed = true;
	}
	return changed;
}

/** Takes a cell that is other than the one above it, at a time later than that; its column has room. */
// @ts-ignore: the compiler's own decorator
@inline
function putCell(line: u32, level: u32, before: f64, now: f64): void {
	const count = load<u32>(COUNTS + ((<usize>line) << 2));
	const place = ((<usize>line) * EDGES + count) << 3;
	if (count == 0) {
		store<u8>(FIRSTS + line, level);
		store<u8>(FED + fed++, line);
	}
	store<u8>(LEVELS + line, level);
	store<f64>(TIMES + place, now);
	store<f64>(BEFORES + place, before);
	store<u32>(COUNTS + ((<usize>line) << 2), count + 1);
	most = max(most, count + 1);
}

/**
 * Every `stride`th sample of INPUT from `first` on into COLUMN, as 32-bit floats of -1 to 1. `size`: bytes of a sample, little-endian;
 * those of one byte stand about 128. Whole ones of one or two bytes are counted by value in the `table`th of VALUES.
 */
export function column(first: i32, stride: i32, count: i32, size: i32, float: bool, table: i32): void {
	let p = INPUT + first * size;
	const step = stride * size;
	const counts = VALUES + ((<usize>table) << 18);
	let to = COLUMN;
	const end = to + 4 * count;
	if (float && size == 4) for (; to < end; to += 4, p += step) store<f32>(to, load<f32>(p));
	else if (float) for (; to < end; to += 4, p += step) store<f32>(to, <f32>load<f64>(p));
	else if (size == 1)
		for (; to < end; to += 4, p += step) {
			const value = <i32>load<u8>(p);
			tick(counts + (value << 2));
			store<f32>(to, <f32>(value - 128) / 128);
		}
	else if (size == 2)
		for (; to < end; to += 4, p += step) {
			const value = <i32>load<i16>(p);
			tick(counts + ((value + 32768) << 2));
			store<f32>(to, <f32>value * (1.0 / 32768));
		}
	else if (size == 3)
		for (; to < end; to += 4, p += step) store<f32>(to, <f32>((<i32>load<i8>(p + 2) << 16) | <i32>load<u16>(p)) / 8388608);
	else for (; to < end; to += 4, p += step) store<f32>(to, <f32>(<f64>load<i32>(p) / 2147483648));
}

// @ts-ignore: the compiler's own decorator
@inline
function tick(at: usize): void {
	store<u32>(at, load<u32>(at) + 1);
}

/**
 * Counts samples COLUMN[0..count) into bins of a width from `from` on, on top of TALLY, a pair of how many and their sum a bin; least and
 * greatest go into shortest and longest. Returns the number of the first sample that falls into none.
 */
export function tally(count: i32, from: f64, inverse: f64): i32 {
	memory.fill(TURNS, 0, 64 * BINS);
	const origin = f64x2.splat(from);
	const scale = f64x2.splat(inverse);
	const least = f64x2.splat(0);
	const most = f64x2.splat(<f64>BINS - 1e-6);
	const pairs = count & ~1;
	let i = 0;
	for (; i < pairs; i += 2) {
		const values = f64x2.promote_low_f32x4(v128.load64_zero(COLUMN + ((<usize>i) << 2)));
		const at = f64x2.mul(f64x2.sub(values, origin), scale);
		if (!i64x2.all_true(v128.and(f64x2.ge(at, least), f64x2.lt(at, most)))) break;
		const bins = i32x4.trunc_sat_f64x2_s_zero(at);
		add((i & 2) * BINS + i32x4.extract_lane(bins, 0), f64x2.extract_lane(values, 0));
		add((i & 2) * BINS + BINS + i32x4.extract_lane(bins, 1), f64x2.extract_lane(values, 1));
	}
	for (; i < count; i++) {
		const value = <f64>load<f32>(COLUMN + ((<usize>i) << 2));
		const at = (value - from) * inverse;
		if (!(at >= 0 && at < <f64>BINS - 1e-6)) break;
		add(<i32>at, value);
	}
	for (let k = 0; k < 4 * BINS; k++) {
		const bin = TALLY + ((k & (BINS - 1)) << 4);
		v128.store(bin, f64x2.add(v128.load(bin), v128.load(TURNS + (k << 4))));
	}
	bounds(i);
	return i;
}

/** One more value of a bin. Four tables take turns: a bin that comes again at once need not wait for itself. */
// @ts-ignore: the compiler's own decorator
@inline
function add(bin: i32, value: f64): void {
	const at = TURNS + ((<usize>bin) << 4);
	store<f64>(at, load<f64>(at) + 1);
	store<f64>(at + 8, load<f64>(at + 8) + value);
}

/** Least and greatest of COLUMN[0..count). */
function bounds(count: i32): void {
	let least = f32x4.splat(Infinity);
	let most = f32x4.splat(-Infinity);
	const fours = count & ~3;
	for (let i = 0; i < fours; i += 4) {
		const values = v128.load(COLUMN + ((<usize>i) << 2));
		least = f32x4.pmin(least, values);
		most = f32x4.pmax(most, values);
	}
	shortest = <f64>min(min(f32x4.extract_lane(least, 0), f32x4.extract_lane(least, 1)), min(f32x4.extract_lane(least, 2), f32x4.extract_lane(least, 3)));
	longest = <f64>max(max(f32x4.extract_lane(most, 0), f32x4.extract_lane(most, 1)), max(f32x4.extract_lane(most, 2), f32x4.extract_lane(most, 3)));
	for (let i = fours; i < count; i++) {
		const value = <f64>load<f32>(COLUMN + ((<usize>i) << 2));
		shortest = min(shortest, value);
		longest = max(longest, value);
	}
}

/** Adds a value to the sums of a quantity. */
// @ts-ignore: the compiler's own decorator
@inline
function sum(at: usize, value: f64, first: f64): f64 {
	const all = load<f64>(at) + value;
	store<f64>(at, all);
	store<f64>(at + 8, min(load<f64>(at + 8), value));
	store<f64>(at + 16, max(load<f64>(at + 16), value));
	const d = value - first;
	store<f64>(at + 24, load<f64>(at + 24) + d);
	store<f64>(at + 32, load<f64>(at + 32) + d * d);
	return all;
}

/**
 * Periods that each begin at the rise before and end with a fall and a rise: offsets in pairs in INPUT, 32-bit or, `wide`, 64-bit floats.
 * Period, high and low are summed in SUMMED, on top of what stands there, and periods and highs listed. Returns how many were taken: a sum
 * beyond 2^52 must be carried first.
 */
export function periods(from: i32, count: i32, wide: bool, rise: f64, period0: f64, high0: f64, low0: f64): i32 {
	let k = from;
	while (k < count) {
		const at = (<usize>k) << 1;
		const fall = wide ? load<f64>(INPUT + (at << 3)) : <f64>load<u32>(INPUT + (at << 2));
		const next = wide ? load<f64>(INPUT + (at << 3) + 8) : <f64>load<u32>(INPUT + (at << 2) + 4);
		const period = next - rise;
		store<f64>(PERIODS + (at << 2), period);
		store<f64>(HIGHS + (at << 2), fall - rise);
		sum(SUMMED + 40, fall - rise, high0);
		sum(SUMMED + 80, next - fall, low0);
		rise = next;
		k++;
		if (sum(SUMMED, period, period0) > 4503599627370496) break;
	}
	return k;
}

/** How often a fall and a rise follow each other in the levels COLUMN[0..2 * count). */
export function turns(count: i32): i32 {
	let k = 0;
	while (k + 4 <= count && load<u64>(COLUMN + (k << 1)) == 0x0100010001000100) k += 4;
	while (k < count && load<u16>(COLUMN + (k << 1)) == 0x0100) k++;
	return k;
}

/**
 * Ratios of the highs and periods from..count: their sum, sums of differences to `first` and of squares, least and greatest with what they
 * are fractions of, on top of what stands in SUMMED. Returns the number of the first that is as little or as great as one of them and
 * another fraction: which of the two is less, doubles cannot tell.
 */
export function ratios(from: i32, count: i32, first: f64): i32 {
	const firsts = f64x2.splat(first);
	let totals = f64x2.splat(0);
	let shifts = f64x2.splat(0);
	let spread = f64x2.splat(0);
	let k = from;
	while (k < count) {
		const at = (<usize>k) << 3;
		if (k + 2 <= count) {
			const values = f64x2.div(v128.load(HIGHS + at), v128.load(PERIODS + at));
			const extreme = v128.or(
				f64x2.le(values, f64x2.splat(load<f64>(SUMMED + 24))),
				f64x2.ge(values, f64x2.splat(load<f64>(SUMMED + 48)))
			);
			if (!v128.any_true(extreme)) {
				const d = f64x2.sub(values, firsts);
				totals = f64x2.add(totals, values);
				shifts = f64x2.add(shifts, d);
				spread = f64x2.add(spread, f64x2.mul(d, d));
				k += 2;
				continue;
			}
		}
		if (!ratio(at, first)) break;
		k++;
	}
	gather(SUMMED, totals);
	gather(SUMMED + 8, shifts);
	gather(SUMMED + 16, spread);
	return k;
}

function gather(at: usize, both: v128): void {
	store<f64>(at, load<f64>(at) + f64x2.extract_lane(both, 0) + f64x2.extract_lane(both, 1));
}

/** One ratio, a new least or greatest among them. False: it must be compared exactly. */
function ratio(at: usize, first: f64): bool {
	const part = load<f64>(HIGHS + at);
	const whole = load<f64>(PERIODS + at);
	const value = part / whole;
	const below = value <= load<f64>(SUMMED + 24);
	const above = value >= load<f64>(SUMMED + 48);
	if (below && value == load<f64>(SUMMED + 24) && isOther(SUMMED + 24, part, whole)) return false;
	if (above && value == load<f64>(SUMMED + 48) && isOther(SUMMED + 48, part, whole)) return false;
	if (below) keep(SUMMED + 24, value, part, whole);
	if (above) keep(SUMMED + 48, value, part, whole);
	const d = value - first;
	store<f64>(SUMMED, load<f64>(SUMMED) + value);
	store<f64>(SUMMED + 8, load<f64>(SUMMED + 8) + d);
	store<f64>(SUMMED + 16, load<f64>(SUMMED + 16) + d * d);
	return true;
}

/** Products that a double holds tell whether two fractions are one. */
function isOther(at: usize, part: f64, whole: f64): bool {
	const product = part * load<f64>(at + 16);
	return product != load<f64>(at + 8) * whole || product > <f64>MOST;
}

function keep(at: usize, value: f64, part: f64, whole: f64): void {
	store<f64>(at, value);
	store<f64>(at + 8, part);
	store<f64>(at + 16, whole);
}
