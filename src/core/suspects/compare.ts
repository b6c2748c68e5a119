import { edgeAt, quietLevels, type Course } from './course.js';
import type { Observed, ReadValue } from './observed.js';

/** One measured quantity beside what a prediction says of it; times in seconds. */
export interface Compared {
	/** Number of the line. */
	line: number;
	of: 'period' | 'high' | 'duty' | 'delay' | 'steadiness' | 'rows' | 'edges' | 'level' | 'starts';
	measured: number;
	predicted: number;
	/** What the recording leaves open. */
	part: number;
	/** Does it stretch with the clock? */
	stretches: boolean;
}

/** What cannot be explained away by any step. */
const NEVER = Number.POSITIVE_INFINITY;
/** Steps by which single periods of a steady line may differ, and the share of a period that noise may come to. */
const [STEADY_STEPS, STEADY_SHARE] = [2.5, 0.02];

/** Compares a line on its own with its course; delays are another matter. `laid`: time of plan time 0, where that is known. */
export function compareLine(line: number, seen: Observed, course: Course, laid?: number): Compared[] {
	const add = (of: Compared['of'], measured: number, predicted: number, part: number, stretches = false): Compared => ({
		line,
		of,
		measured,
		predicted,
		part,
		stretches
	});
	const still = course.times.length === 0;
	if (seen.edges.length === 0) {
		const levels = quietLevels(course, seen.from, seen.to, seen.step, laid);
		if (!levels) return [];
		if (levels.length === 0) return [add('edges', 0, 1, 0)];
		if (seen.level === 2) return [];
		const predicted = levels.find((level) => level === seen.level) ?? levels[0];
		return [add('level', seen.level, predicted, seen.level === predicted ? 1 : 0)];
	}
	if (still) return [add('edges', seen.edges.length, 0, 0)];
	if (laid !== undefined && !course.steady) return compareLaid(line, seen, course, laid);
	if (course.steady && !beginsOtherwise(seen, course)) {
		const { period, high } = seen.measures;
		if (!period || !high) return [];
		const room = Math.max(STEADY_STEPS * seen.step, STEADY_SHARE * course.steady.period, 8 * seen.noise);
		return [
			add('period', period.mean.toNumber(), course.steady.period, seen.periodPart, true),
			add('high', high.mean.toNumber(), course.steady.high, seen.highPart, true),
			add('steadiness', Math.max(seen.periodSpread, seen.highSpread), 0, room)
		];
	}
	return compareRows(line, seen, course);
}

/** Does a line change before it is steady, and does the recording show such changes? */
function beginsOtherwise(seen: Observed, { turn }: Course): boolean {
	const room = Math.max(STEADY_STEPS * seen.step, 8 * seen.noise);
	return turn!.first > 0 && Math.max(seen.periodSpread, seen.highSpread) > room;
}

/** A value that was read off beside the same of a steady course; nothing where the course has no such thing. */
export function compareReading(line: number, { of, value, error }: ReadValue, course: Course, delay: number | undefined): Compared[] {
	const { steady } = course;
	const add = (quantity: Compared['of'], measured: number, predicted: number, part: number, stretches = true): Compared[] => [
		{ line, of: quantity, measured, predicted, part, stretches }
	];
	if (!steady) return course.times.length === 0 ? add('edges', 1, 0, 0, false) : [];
	if (of === 'frequency') return value > 0 ? add('period', 1 / value, steady.period, error / (value * value)) : [];
	if (of === 'duty') return add('duty', value, steady.high / steady.period, error, false);
	if (PERIODS.includes(of)) return add('period', value, steady.period, error);
	if (HIGHS.includes(of)) return add('high', value, steady.high, error);
	return delay === undefined ? [] : add('delay', value, delay, error);
}

/** Quantities that are a period, or a high width, by whatever name. */
const PERIODS: ReadValue['of'][] = ['period', 'interval'];
const HIGHS: ReadValue['of'][] = ['high', 'width'];

/** Pulses of a line that are laid on a table. */
const MOST_PULSES = 1500;
/** Rows whose place is weighed first. */
const FIRST = 24;

/** Lays the recorded pulses on a course that is not steady, wherever they fit best, and compares them one by one. */
function compareRows(line: number, seen: Observed, course: Course): Compared[] {
	const offset = seen.up.indexOf(1);
	if (offset < 0) return [];
	// Of a course that is known in part only so much is laid on it that there is room to either side.
	const most = course.cut ? Math.min(2 * MOST_PULSES, Math.max(FIRST, course.times.length >> 1)) : 2 * MOST_PULSES;
	const recorded = seen.edges.subarray(offset, offset + most);
	const all = unrolled(course, recorded.length + (course.turn?.count ?? 0));
	const first = course.level === 0 ? 0 : 1;
	const place = bestPlace(scaledTo(recorded, all, first), all, first, seen);
	if (place === undefined && course.cut) return [];
	if (place === undefined) return [{ line, of: 'rows', measured: recorded.length, predicted: all.length, part: 0, stretches: false }];
	return rowsAt(line, seen, recorded, all.subarray(place, place + recorded.length));
}

/** Sources may be off by so much: distances of rows are weighed once that is taken out. */
const ROUGH = 0.06;

/** The recorded edges as a clock would show them that runs as the course does. */
function scaledTo(recorded: Float64Array, all: Float64Array, first: number): Float64Array {
	const last = all.length - 1 - ((all.length - 1 - first) % 2);
	const [own, wanted] = [(recorded[recorded.length - 1] - recorded[0]) / (recorded.length - 1), (all[last] - all[first]) / (last - first)];
	const scale = wanted / own;
	return Math.abs(scale - 1) < ROUGH ? recorded.map((time) => time * scale) : recorded;
}

/** Edges of a course up to a number beyond its first turn. */
function unrolled(course: Course, count: number): Float64Array {
	const { times, turn } = course;
	if (!turn) return times;
	const whole = Math.max(times.length, turn.first + count + turn.count);
	return Float64Array.from({ length: whole }, (_, i) => edgeAt(course, i)!.time);
}

/** Places that are as good edge by edge and weighed as a whole, at the most; and what they may differ by, as a share of a step. */
const [MOST_ALIKE, ALIKE] = [64, 0.05];

/** Where the recorded edges differ least from the course's: edge by edge first, then as a whole. */
function bestPlace(recorded: Float64Array, all: Float64Array, first: number, { step }: Observed): number | undefined {
	const count = recorded.length;
	let best = NEVER;
	let alike: { at: number; cost: number }[] = [];
	for (let at = first; at + count <= all.length; at += 2) {
		const room = best + ALIKE * step;
		if (costAt(recorded, all, at, Math.min(count, FIRST), NEVER, step) > room) continue;
		const cost = costAt(recorded, all, at, count, room, step);
		if (cost > room) continue;
		best = Math.min(best, cost);
		if (alike.length < MOST_ALIKE) alike.push({ at, cost });
	}
	alike = alike.filter(({ cost }) => cost <= best + ALIKE * step);
	const worst = ({ at }: (typeof alike)[number]) => Math.abs(further(furthest(recorded, all.subarray(at, at + count))));
	return alike.map((one) => ({ one, off: worst(one) })).sort((x, y) => x.off - y.off)[0]?.one.at;
}

/** The edges furthest from their places to either side, once both ends are laid on each other. */
function furthest(recorded: Float64Array, planned: Float64Array): { early: number; late: number } {
	const last = recorded.length - 1;
	const stretch = (recorded[last] - recorded[0]) / (planned[last] - planned[0]);
	let [early, late] = [0, 0];
	for (let i = 0; i <= last; i++) {
		const off = recorded[i] - recorded[0] - stretch * (planned[i] - planned[0]);
		early = Math.min(early, off);
		late = Math.max(late, off);
	}
	return { early, late };
}

const further = ({ early, late }: { early: number; late: number }) => (-early > late ? early : late);

/** Mean distance of the distances between neighbouring edges. */
function costAt(recorded: Float64Array, all: Float64Array, at: number, count: number, most: number, step: number): number {
	let sum = 0;
	const limit = most * count;
	for (let i = 1; i < count; i++) {
		const off = Math.abs(recorded[i] - recorded[i - 1] - (all[at + i] - all[at + i - 1]));
		sum += Math.max(0, off - step);
		if (sum > limit) return NEVER;
	}
	return sum / Math.max(1, count);
}

/** The span as a whole, and the edge furthest from its place once both ends are laid on each other. */
function rowsAt(line: number, seen: Observed, recorded: Float64Array, planned: Float64Array): Compared[] {
	const last = recorded.length - 1;
	const [span, wanted] = [recorded[last] - recorded[0], planned[last] - planned[0]];
	if (!(wanted > 0)) return [];
	const part = seen.step + 5 * seen.noise;
	const pulses = last / 2;
	const off = furthest(recorded, planned);
	// Whole steps alone leave edges within one step of each other: what is more is how far an edge wanders.
	const wander = Math.min(seen.step, Math.max(0, off.late - off.early - seen.step) / 2);
	return [
		{ line, of: 'period', measured: span / pulses, predicted: wanted / pulses, part: (2 * (part + wander)) / pulses, stretches: true },
		{ line, of: 'rows', measured: further(off), predicted: 0, part: 2 * part, stretches: false }
	];
}

/** Both directions compared where plan time 0 is known: each recorded edge against the next planned one. */
function compareLaid(line: number, seen: Observed, course: Course, laid: number): Compared[] {
	const recorded = seen.edges;
	const margin = 2 * seen.step + 5 * seen.noise;
	const planned: number[] = [];
	for (let i = 0; ; i++) {
		const edge = edgeAt(course, i);
		if (!edge || planned.length >= recorded.length + 64) break;
		const time = edge.time + laid;
		if (time > seen.to - margin) break;
		if (time >= seen.from + margin) planned.push(time);
	}
	const inside = Array.from(recorded).filter((time) => time >= seen.from + margin && time <= seen.to - margin);
	const counted: Compared = {
		line,
		of: 'edges',
		measured: inside.length,
		predicted: planned.length,
		part: inside.length === planned.length ? 1 : 0,
		stretches: false
	};
	if (inside.length !== planned.length || inside.length === 0) return [counted];
	const up = course.level === 0;
	const part = seen.step + (5 * seen.noise) / Math.sqrt(inside.length);
	const widths = (times: readonly number[]) => meanOf(times, up ? 0 : 1);
	const starts = (times: readonly number[]) => times[0];
	let worst = 0;
	inside.forEach((time, i) => {
		if (Math.abs(time - planned[i]) > Math.abs(worst)) worst = time - planned[i];
	});
	return [
		counted,
		{ line, of: 'high', measured: widths(inside), predicted: widths(planned), part, stretches: true },
		{ line, of: 'starts', measured: starts(inside) - starts(planned), predicted: 0, part: 2 * part, stretches: false },
		{ line, of: 'rows', measured: worst, predicted: 0, part: 2 * part, stretches: false }
	];
}

/** Pulses that come whenever something triggers them: how long they last, and that all last as long. */
export function compareShots(line: number, seen: Observed, course: Course): Compared[] {
	const { times, level } = course;
	if (times.length < 2) return [];
	const first = seen.up.indexOf(level === 0 ? 1 : 0);
	const own = first < 0 ? [] : Array.from(seen.edges.subarray(first));
	const widths = own.flatMap((time, i) => (i % 2 === 0 && i + 1 < own.length ? [own[i + 1] - time] : []));
	if (widths.length === 0)
		return seen.edges.length === 0 ? [{ line, of: 'edges', measured: 0, predicted: 1, part: 0, stretches: false }] : [];
	const mean = widths.reduce((sum, width) => sum + width, 0) / widths.length;
	const spread = Math.max(...widths) - Math.min(...widths);
	const predicted = times[1] - times[0];
	return [
		{ line, of: 'high', measured: mean, predicted, part: seen.step, stretches: true },
		{
			line,
			of: 'steadiness',
			measured: spread,
			predicted: 0,
			part: Math.max(STEADY_STEPS * seen.step, STEADY_SHARE * predicted),
			stretches: false
		}
	];
}

function meanOf(times: readonly number[], first: number): number {
	let [sum, count] = [0, 0];
	for (let i = first; i + 1 < times.length; i += 2) {
		sum += times[i + 1] - times[i];
		count++;
	}
	return count > 0 ? sum / count : 0;
}

/** Rises that a delay is the mean of, at the most. */
const MOST_RISES = 4000;

/** The delay of a steady line behind another one, in turns of the shorter of their periods; undefined where neither keeps step with the other. */
export function compareDelay(
	line: number,
	[seen, against]: readonly [Observed, Observed],
	[course, leader]: readonly [Course, Course]
): Compared | undefined {
	if (!course.steady || !leader.steady || !seen.measures.period || !against.measures.period) return undefined;
	const turn = Math.min(course.steady.period, leader.steady.period);
	const whole = Math.max(course.steady.period, leader.steady.period) / turn;
	if (Math.abs(whole - Math.round(whole)) > 1e-9 * whole) return undefined;
	const shorter = course.steady.period <= leader.steady.period ? seen : against;
	const own = shorter.measures.period!.mean.toNumber();
	const measured = delayBetween(seen, against, own);
	const predicted = riseIn(course) - riseIn(leader);
	if (measured === undefined) return undefined;
	const part = Math.max(seen.highPart, against.highPart, seen.step);
	const near = predicted + turn * Math.round((measured - predicted) / turn);
	return { line, of: 'delay', measured, predicted: near, part, stretches: true };
}

/** Delays that were measured: every guess asks for the same. */
const delays = new WeakMap<Observed, WeakMap<Observed, Map<number, number | undefined>>>();

function delayBetween(seen: Observed, against: Observed, turn: number): number | undefined {
	const behind = delays.get(seen) ?? new WeakMap<Observed, Map<number, number | undefined>>();
	delays.set(seen, behind);
	const known = behind.get(against) ?? new Map<number, number | undefined>();
	behind.set(against, known);
	if (!known.has(turn)) known.set(turn, meanDelay(risesOf(seen), risesOf(against), turn));
	return known.get(turn);
}

function risesOf({ edges, up }: Observed): number[] {
	const rises: number[] = [];
	for (let i = 0; i < edges.length && rises.length < MOST_RISES; i++) if (up[i] === 1) rises.push(edges[i]);
	return rises;
}

/** A rise of a steady course, once it has settled. */
export function riseIn({ times, turn, level }: Course): number {
	const first = turn!.first;
	return times[(level + first) % 2 === 0 ? first : first + 1];
}

/** The mean delay of rises behind the nearest rise of another line in front of them, all in turns of a period about the first. */
function meanDelay(rises: readonly number[], marks: readonly number[], turn: number): number | undefined {
	if (rises.length === 0 || marks.length === 0) return undefined;
	let [sum, count, at, first] = [0, 0, 0, 0];
	for (const rise of rises) {
		while (at + 1 < marks.length && marks[at + 1] <= rise) at++;
		if (marks[at] > rise) continue;
		let delay = rise - marks[at];
		if (count === 0) first = delay;
		delay -= turn * Math.round((delay - first) / turn);
		sum += delay;
		count++;
	}
	return count > 0 ? sum / count : undefined;
}

/** How far the worst quantity is from explained: at most 1 is. `ratio`: the recorder's clock over the plan's. */
export function residual({ measured, predicted, part, stretches }: Compared, ratio: number): number {
	const off = Math.abs(measured - (stretches ? ratio * predicted : predicted));
	if (part > 0) return off / part;
	return off > 0 ? NEVER : 0;
}

/** The ratio within its range that leaves the least greatest residual. */
export function bestRatio(all: readonly Compared[], [low, high]: readonly [number, number]): number {
	const stretched = all.filter(({ stretches, part }) => stretches && part > 0);
	const worst = (ratio: number) => stretched.reduce((most, one) => Math.max(most, residual(one, ratio)), 0);
	let [a, b] = [low, high];
	for (let i = 0; i < 80 && b - a > 0; i++) {
		const [c, d] = [a + (b - a) / 3, b - (b - a) / 3];
		if (worst(c) <= worst(d)) b = d;
		else a = c;
	}
	return (a + b) / 2;
}
