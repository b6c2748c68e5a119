import { MILLION, Rational, readQuantity, type Hertz, type Ppm, type Quantity, type ReadFailure, type Seconds } from '../../exact/index.js';

/** What a filter's parts are measured in. */
export type PartDimension = 'resistance' | 'capacitance' | 'inductance';

/** Why a typed field makes no sense where it stands. `expected` names what would be accepted. */
export interface FieldProblem {
	reason: ReadFailure | 'wrong-dimension' | 'not-positive' | 'negative' | 'not-whole' | 'bare-number' | 'too-large';
	expected:
		| 'rate'
		| 'tolerance'
		| 'duty'
		| 'bits'
		| 'whole'
		| 'factor'
		| 'frequency'
		| 'error'
		| 'time'
		| 'turns'
		| 'lag'
		| 'share'
		| 'value'
		| 'speed'
		| PartDimension;
	unit?: string;
	/** Both ways in which a comma could be meant. */
	readings?: [string, string];
}

export type Field<T> = { ok: true; value: T } | { ok: false; problem: FieldProblem };

/** A wished share of the period that is active, in whatever form it was said. */
export type DutyWish =
	| { kind: 'ratio'; ratio: Rational }
	| { kind: 'on'; seconds: Seconds }
	| { kind: 'off'; seconds: Seconds }
	| { kind: 'ticks'; ticks: Rational; part: 'on' | 'off' };

function refuse<T>(problem: FieldProblem): Field<T> {
	return { ok: false, problem };
}

function read<T>(text: string, expected: FieldProblem['expected'], make: (q: Quantity) => Field<T>): Field<T> {
	const result = readQuantity(text);
	if (result.ok) return make(result.quantity);
	const problem: FieldProblem = { reason: result.reason, expected };
	if (result.unit !== undefined) problem.unit = result.unit;
	if (result.readings) problem.readings = result.readings;
	return refuse(problem);
}

/** "1.2 kHz", "850 us" or "1200", which is in hertz: the update rate. `tickRate`: where it is known a period can be said in ticks, too. */
export function readRate(text: string, tickRate?: Hertz | null): Field<Hertz> {
	return read(text, 'rate', ({ dimension, value }) => {
		if (dimension === 'ticks' && tickRate && value.sign > 0) return { ok: true, value: tickRate.div(value) };
		if (!['frequency', 'time', 'number'].includes(dimension)) return refuse({ reason: 'wrong-dimension', expected: 'rate' });
		if (value.sign <= 0) return refuse({ reason: 'not-positive', expected: 'rate' });
		return { ok: true, value: dimension === 'time' ? value.inverse() : value };
	});
}

/** "12 MHz" or "12000000": a frequency above zero. */
export function readFrequency(text: string): Field<Hertz> {
	return read(text, 'frequency', ({ dimension, value }) => {
		if (dimension !== 'frequency' && dimension !== 'number') return refuse({ reason: 'wrong-dimension', expected: 'frequency' });
		return value.sign > 0 ? { ok: true, value } : refuse({ reason: 'not-positive', expected: 'frequency' });
	});
}

/** "0.1 %", "500 ppm" or, of a rate, "2 Hz": in ppm of the wish. */
export function readTolerance(text: string, wish: Hertz | undefined): Field<Ppm> {
	return read(text, 'tolerance', ({ dimension, value }) => {
		if (dimension === 'number') return refuse({ reason: 'bare-number', expected: 'tolerance' });
		const ratio = dimension === 'ratio' ? value : dimension === 'frequency' && wish ? value.div(wish) : undefined;
		if (!ratio) return refuse({ reason: 'wrong-dimension', expected: 'tolerance' });
		return ratio.sign < 0 ? refuse({ reason: 'negative', expected: 'tolerance' }) : { ok: true, value: ratio.mul(MILLION) };
	});
}

/** "35 %", "1/3", "120 us on", "80 us off", "120 us", "2100 ticks", "900 ticks off". A bare number is a ratio of 0..1. */
export function readDuty(text: string): Field<DutyWish> {
	return read(text, 'duty', ({ dimension, value, part }): Field<DutyWish> => {
		if (value.sign < 0) return refuse({ reason: 'negative', expected: 'duty' });
		if (dimension === 'time') return { ok: true, value: { kind: part ?? 'on', seconds: value } };
		if (dimension === 'ticks') return { ok: true, value: { kind: 'ticks', ticks: value, part: part ?? 'on' } };
		if (dimension === 'number' && value.compare(Rational.one) > 0) return refuse({ reason: 'bare-number', expected: 'duty' });
		if (dimension !== 'ratio' && dimension !== 'number') return refuse({ reason: 'wrong-dimension', expected: 'duty' });
		if (value.compare(Rational.one) > 0) return refuse({ reason: 'too-large', expected: 'duty' });
		return { ok: true, value: { kind: 'ratio', ratio: part === 'off' ? Rational.one.sub(value) : value } };
	});
}

/** "10 bits" or "10": a whole number of 0 to 32. */
export function readBits(text: string): Field<number> {
	return read(text, 'bits', ({ dimension, value }) => {
		if (dimension !== 'bits' && dimension !== 'number') return refuse({ reason: 'wrong-dimension', expected: 'bits' });
		if (!value.isInteger) return refuse({ reason: 'not-whole', expected: 'bits' });
		if (value.sign < 0) return refuse({ reason: 'negative', expected: 'bits' });
		return value.compare(Rational.int(32)) > 0 ? refuse({ reason: 'too-large', expected: 'bits' }) : { ok: true, value: Number(value.num) };
	});
}

/** "60000", "0xB1E0", "0b1011": a whole number of `least` or more, below 2^33. */
export function readWhole(text: string, least: 0 | 1): Field<number> {
	return read(text, 'whole', ({ dimension, value }) => {
		if (dimension !== 'number' && dimension !== 'ticks') return refuse({ reason: 'wrong-dimension', expected: 'whole' });
		if (!value.isInteger) return refuse({ reason: 'not-whole', expected: 'whole' });
		if (value.compare(Rational.int(least)) < 0) return refuse({ reason: least === 1 ? 'not-positive' : 'negative', expected: 'whole' });
		return value.compare(Rational.int(2 ** 33)) >= 0
			? refuse({ reason: 'too-large', expected: 'whole' })
			: { ok: true, value: Number(value.num) };
	});
}

/** Core cycles, as a count or, where the core's rate is known, as a time, which is rounded up to whole cycles. */
export function readCycles(text: string, core: Hertz | null): Field<number> {
	const read = readQuantity(text);
	if (!read.ok || read.quantity.dimension !== 'time' || !core) return readWhole(text, 0);
	return readWhole(String(-read.quantity.value.mul(core).neg().floor()), 0);
}

/** The error an instrument states for its time base: "25 ppm", "0.01 %", "0". In ppm. */
export function readInstrument(text: string): Field<Ppm> {
	if (text.trim() === '' || text.trim() === '0') return { ok: true, value: Rational.zero };
	const found = readTolerance(text, undefined);
	return found.ok ? found : refuse({ ...found.problem, expected: 'error' });
}

/** "1.25 ms", "-3 us", "0": a time of either sign. */
export function readShift(text: string): Field<Seconds> {
	return read(text, 'time', ({ dimension, value }) => {
		if (dimension === 'time' || value.sign === 0) return { ok: true, value };
		return refuse({ reason: dimension === 'number' ? 'bare-number' : 'wrong-dimension', expected: 'time' });
	});
}

/** Clocks differ by less than this: half as fast, or half as fast again. */
const MOST_OFFSET = Rational.int(500_000);

/** What a clock is off by: "-64 ppm", "0.01 %"; empty or 0: nothing. In ppm. */
export function readOffset(text: string): Field<Ppm> {
	if (text.trim() === '') return { ok: true, value: Rational.zero };
	return read(text, 'error', ({ dimension, value }) => {
		if (value.sign === 0) return { ok: true, value };
		if (dimension === 'number') return refuse({ reason: 'bare-number', expected: 'error' });
		if (dimension !== 'ratio') return refuse({ reason: 'wrong-dimension', expected: 'error' });
		const ppm = value.mul(MILLION);
		return ppm.abs().compare(MOST_OFFSET) <= 0 ? { ok: true, value: ppm } : refuse({ reason: 'too-large', expected: 'error' });
	});
}

/** "12", "x 12", "÷ 2", "12.375", "99/8": a factor above zero. */
export function readClockFactor(text: string): Field<Rational> {
	return read(text.replace(/^\s*[x×*÷/]\s*/, ''), 'factor', ({ dimension, value }) => {
		if (dimension !== 'number') return refuse({ reason: 'wrong-dimension', expected: 'factor' });
		return value.sign > 0 ? { ok: true, value } : refuse({ reason: 'not-positive', expected: 'factor' });
	});
}

/** "120 us", "2 ms": a time above zero. */
export function readTime(text: string): Field<Seconds> {
	return read(text, 'time', ({ dimension, value }) => {
		if (dimension === 'number') return refuse({ reason: 'bare-number', expected: 'time' });
		if (dimension !== 'time') return refuse({ reason: 'wrong-dimension', expected: 'time' });
		return value.sign > 0 ? { ok: true, value } : refuse({ reason: 'not-positive', expected: 'time' });
	});
}

/** "2.5 turns", "120 deg" or "1", which is in turns; where it is known how many counts a turn has, "72 counts" or "0..71", too: above zero. */
export function readTurns(text: string, perTurn?: number): Field<Rational> {
	const range = /^\s*0\s*(?:\.{2,3}|…|–|to)\s*(\d{1,10})\s*(?:counts?)?\s*$/.exec(text);
	if (range && perTurn) return { ok: true, value: Rational.of(BigInt(range[1]) + 1n, BigInt(perTurn)) };
	return read(text, 'turns', ({ dimension, value }) => {
		if (dimension === 'counts' && perTurn && value.sign > 0) return { ok: true, value: value.div(Rational.int(perTurn)) };
		if (dimension !== 'angle' && dimension !== 'number') return refuse({ reason: 'wrong-dimension', expected: 'turns' });
		return value.sign > 0 ? { ok: true, value } : refuse({ reason: 'not-positive', expected: 'turns' });
	});
}

/** A wished lag behind a leader. */
export type LagWish = { kind: 'time'; seconds: Seconds } | { kind: 'share'; ratio: Rational } | { kind: 'ticks'; ticks: Rational };

/** "277 us", "120 deg", "1/3", "33 %", "500 ticks", "0x1f4": a time, a share of the leader's period of 1 at the most, or ticks of the leader; zero or more. */
export function readLag(text: string): Field<LagWish> {
	return read(text, 'lag', ({ dimension, value }): Field<LagWish> => {
		if (value.sign < 0) return refuse({ reason: 'negative', expected: 'lag' });
		if (dimension === 'time') return { ok: true, value: { kind: 'time', seconds: value } };
		// A number in a register's own notation is ticks.
		if (dimension === 'ticks' || (dimension === 'number' && /^\s*0[xb]/i.test(text)))
			return { ok: true, value: { kind: 'ticks', ticks: value } };
		if (dimension === 'number' && value.compare(Rational.one) > 0) return refuse({ reason: 'bare-number', expected: 'lag' });
		if (dimension !== 'angle' && dimension !== 'ratio' && dimension !== 'number')
			return refuse({ reason: 'wrong-dimension', expected: 'lag' });
		return { ok: true, value: { kind: 'share', ratio: value } };
	});
}

/** "80 %", "0.8", "-10 %": a share of -1 to 1. */
export function readShare(text: string, least: -1 | 0): Field<Rational> {
	return read(text, 'share', ({ dimension, value }) => {
		if (dimension !== 'ratio' && dimension !== 'number') return refuse({ reason: 'wrong-dimension', expected: 'share' });
		if (value.compare(Rational.int(least)) < 0) return refuse({ reason: 'negative', expected: 'share' });
		return value.compare(Rational.one) > 0 ? refuse({ reason: 'too-large', expected: 'share' }) : { ok: true, value };
	});
}

/** "120 us", "0 s" or "0": a time of zero or more. */
export function readSpan(text: string): Field<Seconds> {
	return read(text, 'time', ({ dimension, value }) => {
		if (dimension !== 'time' && !(dimension === 'number' && value.sign === 0)) return refuse({ reason: 'bare-number', expected: 'time' });
		return value.sign >= 0 ? { ok: true, value } : refuse({ reason: 'negative', expected: 'time' });
	});
}

/** "4.7 kOhm", "100 nF", "10 mH": above zero. */
export function readPart(text: string, wanted: PartDimension): Field<Rational> {
	return read(text, wanted, ({ dimension, value }) => {
		if (dimension === 'number') return refuse({ reason: 'bare-number', expected: wanted });
		if (dimension !== wanted) return refuse({ reason: 'wrong-dimension', expected: wanted });
		return value.sign > 0 ? { ok: true, value } : refuse({ reason: 'not-positive', expected: wanted });
	});
}

/** Turns a second, below zero for the other way: "60 rpm", "-2 Hz", "1.5". */
export function readSpeed(text: string): Field<Hertz> {
	return read(text, 'speed', ({ dimension, value }) =>
		dimension === 'frequency' || dimension === 'number' ? { ok: true, value } : refuse({ reason: 'wrong-dimension', expected: 'speed' })
	);
}

/** Anything with or without a unit. */
export function readValue(text: string): Field<Quantity> {
	return read(text, 'value', (quantity) => ({ ok: true, value: quantity }));
}

/** The active ticks that a wish for the duty means at a tick rate, before rounding; they may lie outside the period. */
export function wantedTicks(duty: DutyWish, tickRate: Hertz, ticks: number): Rational {
	const whole = Rational.int(ticks);
	switch (duty.kind) {
		case 'ratio':
			return duty.ratio.mul(whole);
		case 'on':
			return duty.seconds.mul(tickRate);
		case 'off':
			return whole.sub(duty.seconds.mul(tickRate));
		case 'ticks':
			return duty.part === 'on' ? duty.ticks : whole.sub(duty.ticks);
	}
}
