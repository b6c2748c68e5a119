import type { StretchedTrace } from '../trace/index.js';

/** What a line is predicted to do, in doubles of seconds. */
export interface Course {
	level: 0 | 1;
	/** Edges one by one, each turning the level; where the line goes on in turns, up to the end of a turn at least. */
	times: Float64Array;
	/** From the edge of this number on, so many come again and again, this much later each time. */
	turn?: { first: number; count: number; period: number };
	/** It was not followed to the end: what comes behind the last edge is not known. */
	cut?: boolean;
	/** Of one that is cut: up to here nothing comes behind its last edge. Left out: there are more edges than are kept. */
	until?: number;
	/** Of a line that pulses steadily in the end: period and high width. */
	steady?: { period: number; high: number };
}

/** Edges of a course that are kept at the most. */
const MOST = 12_000;

/** How far a prediction came. */
interface Followed {
	/** It came to its end, and not only to the most that it may take. */
	whole: boolean;
	/** New values come while it runs. */
	fed: boolean;
	/** In seconds. */
	until: number;
}

/** What a predicted trace does, in seconds; `seconds`: of its unit. */
export function courseOf(trace: StretchedTrace, seconds: number, followed: Followed): Course {
	const { initial, times, repeats } = trace.columns;
	const last = repeats.at(-1);
	const level = initial === 1 ? 1 : 0;
	// What follows the last repeat is the beginning of one more turn, unless it is longer.
	const rest = last ? times.length - last.first - last.count : 0;
	const ends = last && last.count > 0 && last.count % 2 === 0 && last.times > 0 && rest < last.count;
	if (!ends)
		return unended(
			level,
			inSeconds(trace.times64(0, Math.min(trace.count, MOST)), seconds),
			trace.count > MOST ? { ...followed, whole: false, until: 0 } : followed
		);
	// Repeats in the middle are told edge by edge.
	const before = trace.count - last.count * last.times - rest;
	const own = inSeconds(trace.times64(0, Math.min(before, MOST)), seconds);
	if (before > MOST) return { level, times: own };
	const found = { first: before - last.count, count: last.count, period: last.period * seconds };
	const turn = shortest(own, found);
	const first = turn.first;
	const steady = turn.count === 2 ? steadyOf(own, level, first, turn.period) : undefined;
	return { level, times: own, turn, ...(steady && { steady }) };
}

/** Edges that must come again alike for a line to be taken as steady whose system never comes to itself again. */
const REGULAR = 44;

/** Timers that hardly ever meet keep a system from coming to itself; a line of it may be steady all the same. */
function unended(level: 0 | 1, times: Float64Array, { whole, fed, until }: Followed): Course {
	const from = times.length - REGULAR;
	const plain: Course = { level, times, ...(!whole && { cut: true, ...(until > 0 && { until }) }) };
	// What is fed may change again after any number of periods.
	if (from < 2 || fed) return plain;
	const period = times[from + 2] - times[from];
	for (let i = from; i + 2 < times.length; i++) if (Math.abs(times[i + 2] - times[i] - period) > 1e-9 * period) return plain;
	const first = times.length - 2;
	const exact = (times[from + REGULAR - 2] - times[from]) / (REGULAR / 2 - 1);
	return { level, times, turn: { first, count: 2, period: exact }, steady: steadyOf(times, level, first, exact) };
}

/** A turn may hold the same several times. */
function shortest(times: Float64Array, turn: NonNullable<Course['turn']>): NonNullable<Course['turn']> {
	const { first, count, period } = turn;
	for (let edges = 2; edges < count; edges += 2) {
		if (count % edges !== 0) continue;
		const part = (period * edges) / count;
		let same = true;
		for (let i = first; same && i + edges < first + count; i++) same = Math.abs(times[i + edges] - times[i] - part) < 1e-9 * period;
		if (same) return { first, count: edges, period: part };
	}
	return turn;
}

function steadyOf(times: Float64Array, level: 0 | 1, first: number, period: number): { period: number; high: number } {
	const apart = times[first + 1] - times[first];
	const rises = (level + first) % 2 === 0;
	return { period, high: rises ? apart : period - apart };
}

function inSeconds(times: Float64Array, seconds: number): Float64Array {
	return times.map((time) => time * seconds);
}

/** Clocks may be off by so much, and a line is quiet for that much less. */
const CLOCKS = 0.05;

/** Levels at which a course stays for as long as a line was recorded that never moved: where it is laid, or else anywhere. undefined: not known. */
export function quietLevels(course: Course, from: number, to: number, step: number, laid?: number): (0 | 1)[] | undefined {
	return laid === undefined
		? quietFor(course, (to - from) * (1 - CLOCKS) - 2 * step)
		: quietBetween(course, from - laid + step, to - laid - step);
}

/** Level between two edges, by the number of the second. */
const levelBefore = ({ level }: Course, edge: number) => ((level + edge) % 2) as 0 | 1;

function quietFor(course: Course, length: number): (0 | 1)[] | undefined {
	const { times, turn, cut, until } = course;
	const found = new Set<0 | 1>();
	let before = 0;
	const take = (at: number, edge: number) => {
		if (at - before >= length) found.add(levelBefore(course, edge));
		before = at;
	};
	const count = times.length + (turn?.count ?? 0);
	for (let i = 0; i < count; i++) take(edgeAt(course, i)!.time, i);
	if (!turn) take(cut ? (until ?? before) : Infinity, count);
	return found.size === 0 && cut ? undefined : [...found];
}

function quietBetween(course: Course, from: number, to: number): (0 | 1)[] | undefined {
	let edge = 0;
	let next = edgeAt(course, edge);
	while (next && next.time <= from) next = edgeAt(course, ++edge);
	if (next && next.time < to) return [];
	return !next && course.cut && (course.until ?? 0) < to ? undefined : [levelBefore(course, edge)];
}

/** Time and direction of an edge of any number: those behind the stored ones go on in turns. undefined where there is none. */
export function edgeAt({ times, turn, level }: Course, index: number): { time: number; up: boolean } | undefined {
	const up = (level + index) % 2 === 0;
	if (index < times.length) return { time: times[index], up };
	if (!turn) return undefined;
	const inside = (index - turn.first) % turn.count;
	return { time: times[turn.first + inside] + Math.floor((index - turn.first) / turn.count) * turn.period, up };
}
