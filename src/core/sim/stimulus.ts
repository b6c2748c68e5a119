import type { SimInput, SimLevel } from './system.js';

/**
 * Signals at inputs, as generators make them: edge times in base cycles, each rounded once from where it lies exactly.
 * Times go in as cycles and may have fractions. Jitter is drawn from a fixed row of numbers, so that a signal is the same each time.
 */
export const MOST_STIMULUS_EDGES = 200_000;

/** A number of -1 to 1 for each edge. */
export function jitterAt(index: number): number {
	let mixed = Math.imul(index + 1, 0x9e3779b1);
	mixed ^= mixed >>> 16;
	mixed = Math.imul(mixed, 0x85ebca6b);
	mixed ^= mixed >>> 13;
	mixed = Math.imul(mixed, 0xc2b2ae35);
	mixed ^= mixed >>> 16;
	return ((mixed >>> 0) / 0xffffffff) * 2 - 1;
}

/** Edges at these times, jittered, each after the one before; no more than MOST_STIMULUS_EDGES. */
export function inputOf(initial: SimLevel, times: Iterable<number>, jitter = 0): SimInput {
	const edges: number[] = [];
	let last = 0;
	for (const time of times) {
		if (edges.length === MOST_STIMULUS_EDGES) break;
		last = Math.max(last + 1, Math.round(time + jitter * jitterAt(edges.length)));
		edges.push(last);
	}
	return { initial, edges: Float64Array.from(edges) };
}

/** Rises at whole periods from `period` on, falls after `high`, up to `until`; a signal that is never high has no edge, one that never falls only its first. */
export function* squareTimes(period: number, high: number, until: number): Generator<number> {
	if (high >= period && period <= until) yield period;
	if (high <= 0 || high >= period) return;
	for (let k = 1; k * period + high <= until; k++) {
		yield k * period;
		yield k * period + high;
	}
}

/** How a rate goes from one to another: evenly, or by the same ratio in the same time. */
export type Course = 'even' | 'ratio';

/** A rate that goes from `from` to `to` (per cycle) over `over` cycles; `duty` of each period is high, as in squareTimes. */
export function* sweptTimes(from: number, to: number, duty: number, over: number, course: Course = 'even'): Generator<number> {
	const growth = course === 'even' ? 0 : Math.log(to / from) / over;
	// So slow a growth is lost in rounding: it is none.
	const ratio = Math.abs(growth * over) > 1e-9;
	const timeOf = (turns: number) => (ratio ? Math.log1p((turns * growth) / from) / growth : timeOfTurns(from, to, over, turns));
	const whole = ratio ? (to - from) / growth : turnsAt(from, to, over, over);
	const last = Math.floor(whole);
	if (duty >= 1 && last >= 1) yield timeOf(1);
	if (duty <= 0 || duty >= 1) return;
	for (let k = 1; k <= last; k++) {
		yield timeOf(k);
		if (k + duty <= whole) yield timeOf(k + duty);
	}
}

/** A contact that closes at `first` and, so many times, every `every` cycles; after closing and opening it bounces for `bounce` cycles. */
export function* contactTimes(
	first: number,
	every: number,
	times: number,
	held: number,
	{ bounce, bounces }: { bounce: number; bounces: number }
): Generator<number> {
	for (let k = 0; k < times; k++) {
		const closes = first + k * every;
		for (const at of [closes, closes + held]) {
			yield at;
			// A contact that moved is where it went to after every second edge of its bounce.
			const edges = bounce > 0 ? 2 * bounces : 0;
			for (let i = 1; i <= edges; i++) yield at + (bounce * i * (i + 1)) / (edges * (edges + 1));
		}
	}
}

/** Pulses every `every` cycles whose width goes evenly from `from` to `to` within `over` cycles. */
export function* echoTimes(every: number, from: number, to: number, over: number): Generator<number> {
	const last = Math.floor(over / every);
	for (let k = 1; k <= last; k++) {
		yield k * every;
		yield k * every + from + (last > 1 ? ((to - from) * (k - 1)) / (last - 1) : 0);
	}
}

/** A speed in cycles of the encoder per base cycle, reached evenly within `over` base cycles. */
export interface Leg {
	speed: number;
	over: number;
}

/** Both signals of an encoder that begins at rest with both low; A leads where the speed is above zero. */
export function quadratureInputs(legs: readonly Leg[], jitter: number): { a: SimInput; b: SimInput } {
	const quarters = quarterTimes(legs);
	let place = 0;
	const a: number[] = [];
	const b: number[] = [];
	for (const { time, up } of quarters) {
		// From both low, going up: A rises, B rises, A falls, B falls.
		const step = up ? place : place - 1;
		(((step % 2) + 2) % 2 === 0 ? a : b).push(time);
		place += up ? 1 : -1;
	}
	return { a: inputOf(0, a, jitter), b: inputOf(0, b, jitter) };
}

/** When each quarter of a cycle is passed, and which way. */
function quarterTimes(legs: readonly Leg[]): { time: number; up: boolean }[] {
	const found: { time: number; up: boolean }[] = [];
	let [begin, turns, speed] = [0, 0, 0];
	for (const leg of legs) {
		// A leg through zero has a turning point: both sides of it go one way each.
		const turn = speed * leg.speed < 0 ? (leg.over * speed) / (speed - leg.speed) : leg.over;
		const parts = turn < leg.over ? [{ from: speed, to: 0, over: turn }] : [{ from: speed, to: leg.speed, over: leg.over }];
		if (turn < leg.over) parts.push({ from: 0, to: leg.speed, over: leg.over - turn });
		for (const { from, to, over } of parts) {
			const passed = turnsAt(from, to, over, over);
			const up = passed > 0;
			const size = Math.abs(passed);
			// Crossings lie at odd eighths, half-way between the quarters, so that a turn back meets the same places.
			const first = up ? Math.ceil(4 * turns - 0.5) : Math.floor(4 * turns + 0.5);
			for (let k = 0; found.length < 2 * MOST_STIMULUS_EDGES; k++) {
				const place = up ? (first + k + 0.5) / 4 : (first - k - 0.5) / 4;
				const away = Math.abs(place - turns);
				if (away > size) break;
				found.push({ time: begin + timeOfTurns(Math.abs(from), Math.abs(to), over, away), up });
			}
			turns += passed;
			begin += over;
		}
		speed = leg.speed;
	}
	return found;
}

/** Turns passed at time t of an even change of rate. */
function turnsAt(from: number, to: number, over: number, t: number): number {
	return from * t + ((to - from) * t * t) / (2 * over);
}

/** The time at which so many turns are passed. */
function timeOfTurns(from: number, to: number, over: number, turns: number): number {
	const slope = (to - from) / over;
	if (slope === 0) return turns / from;
	const root = Math.sqrt(Math.max(0, from * from + 2 * slope * turns));
	return (2 * turns) / (from + root);
}
