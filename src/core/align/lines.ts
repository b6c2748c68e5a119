import { lowerBound } from '../trace/index.js';

/** Edges of a line: times ascending in one unit for all, and the level before the first, 2 for unknown; each edge turns the level. */
export interface EdgeRow {
	initial: 0 | 1 | 2;
	times: ArrayLike<number>;
	/** Levels after the edges, where they do not take turns: 0, 1, or 2 for unknown. */
	levels?: ArrayLike<number>;
}

/** A planned line: with a period its edges, an even number, repeat for ever, both ways. */
export interface PlannedRow extends EdgeRow {
	period?: number;
}

/** A recorded line from a time to a time; stretches of unknown level hold no edges and hide planned ones. */
export interface RecordedRow extends EdgeRow {
	from: number;
	to: number;
	unknown?: readonly (readonly [number, number])[];
}

/** Where planned time 0 falls in the recording's time, and how much faster the recording's clock runs: recorded = offset + ratio x planned. */
export interface Laying {
	offset: number;
	ratio: number;
}

/** A visible stretch of a recording. Ends that stand open hide what lies exactly on them. */
interface Span {
	from: number;
	to: number;
	openFrom: boolean;
	openTo: boolean;
}

/** Edges made ready: times in order, 1 for a rise, 0 for a fall. */
interface Edges {
	times: Float64Array;
	up: Uint8Array;
}

/** One line of a plan with what was recorded of it, made ready: edges of both directions in order, and what one unmatched edge costs. */
export class LinePair {
	private readonly plannedAlternates: boolean;
	/** Do the recorded edges' directions take turns? */
	readonly recordedAlternates: boolean;

	private constructor(
		readonly plan: PlannedRow,
		readonly recorded: Pick<RecordedRow, 'from' | 'to'>,
		/** Planned edges of one period, or all of them: their times and directions. */
		readonly own: Edges,
		private readonly seen: Edges,
		private readonly spans: readonly Span[]
	) {
		this.plannedAlternates = alternates(own.up) && (plan.period === undefined || own.up.length % 2 === 0);
		this.recordedAlternates = alternates(seen.up);
	}

	static of(plan: PlannedRow, recorded: RecordedRow): LinePair {
		const spans = spansOf(recorded);
		return new LinePair(plan, recorded, edgesOf(plan), edgesOf(recorded, spans), spans);
	}

	get recordedTimes(): Float64Array {
		return this.seen.times;
	}

	/** 1 for a rise, 0 for a fall. */
	get recordedUp(): Uint8Array {
		return this.seen.up;
	}

	/** What an edge without a match costs, in recorded time: half the shortest distance of two planned edges, or of the recording's ends. */
	price(ratio: number): number {
		return (this.halfShortest() ?? (this.recorded.to - this.recorded.from) / 2) * ratio;
	}

	private halfShortest(): number | undefined {
		const { times } = this.own;
		let shortest = Infinity;
		for (let i = 1; i < times.length; i++) shortest = Math.min(shortest, times[i] - times[i - 1]);
		const { period } = this.plan;
		if (period !== undefined && times.length > 0) shortest = Math.min(shortest, times[0] + period - times[times.length - 1]);
		return shortest < Infinity ? shortest / 2 : undefined;
	}

	/** Planned edges that a laying puts inside the recording, where they fall. */
	planned(laying: Laying): Edges & { alternating: boolean } {
		const found = this.spans.map((span) => this.plannedIn(span, laying));
		if (found.length === 1) return { ...found[0], alternating: this.plannedAlternates };
		const times = new Float64Array(found.reduce((sum, one) => sum + one.times.length, 0));
		const up = new Uint8Array(times.length);
		let at = 0;
		for (const one of found) {
			times.set(one.times, at);
			up.set(one.up, at);
			at += one.times.length;
		}
		return { times, up, alternating: alternates(up) };
	}

	/** How many those are, to within one turn of a steady plan; no more than all of them of any other. */
	plannedCount(ratio: number): number {
		const { times } = this.own;
		const { period } = this.plan;
		if (period === undefined) return times.length;
		return this.spans.reduce((sum, { from, to }) => sum + ((to - from) / ratio / period) * times.length, 0);
	}

	private plannedIn({ from, to, openFrom, openTo }: Span, { offset, ratio }: Laying): Edges {
		const { times, up } = this.own;
		const { period } = this.plan;
		const steady = period !== undefined && times.length > 0;
		const first = steady ? Math.floor((from - offset) / ratio / period) - 1 : 0;
		const last = steady ? Math.ceil((to - offset) / ratio / period) + 1 : 0;
		const start = steady ? 0 : Math.max(0, lowerBound(times, times.length, (from - offset) / ratio) - 1);
		const end = steady ? times.length : Math.min(times.length, lowerBound(times, times.length, (to - offset) / ratio) + 1);
		const inside = new Float64Array(Math.max(0, (last - first + 1) * (end - start)));
		const directions = new Uint8Array(inside.length);
		let count = 0;
		for (let turn = first; turn <= last; turn++) {
			const base = steady ? turn * period : 0;
			for (let i = start; i < end; i++) {
				const time = offset + ratio * (base + times[i]);
				if (time < from || time > to) continue;
				inside[count] = time;
				directions[count++] = up[i];
			}
		}
		const skipped = openFrom && inside[0] === from ? 1 : 0;
		if (openTo && count > skipped && inside[count - 1] === to) count--;
		return { times: inside.subarray(skipped, count), up: directions.subarray(skipped, count) };
	}

	/** The same with the recorded edges from one number to another (excluded) alone: what lies around is as unknown. Ranges in order, without overlap. */
	excerpt(ranges: readonly (readonly [number, number])[]): LinePair {
		const { times, up } = this.seen;
		const own = ranges.filter(([first, end]) => end > first);
		const between = (i: number) => (i <= 0 ? this.recorded.from : i >= times.length ? this.recorded.to : (times[i - 1] + times[i]) / 2);
		const size = own.reduce((sum, [first, end]) => sum + end - first, 0);
		const kept: Edges = { times: new Float64Array(size), up: new Uint8Array(size) };
		let at = 0;
		for (const [first, end] of own) {
			kept.times.set(times.subarray(first, end), at);
			kept.up.set(up.subarray(first, end), at);
			at += end - first;
		}
		const spans = own.flatMap(([first, end]) => clipped(this.spans, between(first), between(end)));
		const recorded = { from: between(own.at(0)?.[0] ?? 0), to: between(own.at(-1)?.[1] ?? times.length) };
		return new LinePair(this.plan, recorded, this.own, kept, spans);
	}
}

function alternates(up: Uint8Array): boolean {
	for (let i = 1; i < up.length; i++) if (up[i] === up[i - 1]) return false;
	return true;
}

/** What can be seen: all but stretches of unknown level. */
function spansOf({ from, to, unknown }: RecordedRow): Span[] {
	const spans: Span[] = [];
	let [start, open] = [from, false];
	for (const [a, b] of [...(unknown ?? [])].sort((x, y) => x[0] - y[0])) {
		if (a > to) break;
		if (a > start) spans.push({ from: start, to: a, openFrom: open, openTo: true });
		if (b >= start) [start, open] = [b, true];
	}
	if (start < to || (start === to && !open)) spans.push({ from: start, to, openFrom: open, openTo: false });
	return spans;
}

function clipped(spans: readonly Span[], from: number, to: number): Span[] {
	return spans
		.filter((span) => span.to > from && span.from < to)
		.map((span) => ({
			from: Math.max(from, span.from),
			to: Math.min(to, span.to),
			openFrom: span.from >= from && span.openFrom,
			openTo: span.to <= to && span.openTo
		}));
}

/** Without a copy where every edge turns the level and can be seen. */
function allOf({ initial, times, levels }: EdgeRow, spans?: readonly Span[]): Edges | undefined {
	const count = times.length;
	if (!(times instanceof Float64Array) || count === 0 || initial === 2 || spans?.length === 0 || (spans?.length ?? 0) > 1) return undefined;
	const span = spans?.at(0);
	if (span && (span.openFrom || span.openTo || times[0] < span.from || times[count - 1] > span.to)) return undefined;
	const up = new Uint8Array(count);
	for (let i = 0, level: number = initial; i < count; i++) {
		level = 1 - level;
		if (levels && levels[i] !== level) return undefined;
		up[i] = level;
	}
	return { times, up };
}

/** Those inside the spans, in order; all where none are given. */
function edgesOf(row: EdgeRow, spans?: readonly Span[]): Edges {
	const { initial, times, levels } = row;
	const count = times.length;
	const whole = allOf(row, spans);
	if (whole) return whole;
	const [kept, up] = [new Float64Array(count), new Uint8Array(count)];
	let level: number = initial;
	let [found, at] = [0, 0];
	let span = spans ? spans.at(0) : { from: -Infinity, to: Infinity, openFrom: false, openTo: false };
	for (let i = 0; i < count; i++) {
		const before = level;
		level = levels ? levels[i] : 1 - level;
		if (level === before || level === 2 || before === 2) continue;
		const time = times[i];
		while (span && time > span.to) span = spans?.at(++at);
		if (!span || time < span.from || (time === span.from && span.openFrom) || (time === span.to && span.openTo)) continue;
		kept[found] = time;
		up[found++] = level;
	}
	return { times: kept.subarray(0, found), up: up.subarray(0, found) };
}

/** The period that all planned lines have; undefined where one has none, or another. */
export function commonPeriod(pairs: readonly LinePair[]): number | undefined {
	const period = pairs.at(0)?.plan.period;
	return pairs.every(({ plan }) => plan.period === period) ? period : undefined;
}

/** How far two layings are apart, up to whole turns of a plan with a period. */
export function apart(a: Laying, b: Laying, period: number | undefined): number {
	const distance = Math.abs(a.offset - b.offset);
	if (period === undefined) return distance;
	const turn = period * a.ratio;
	return Math.min(distance % turn, turn - (distance % turn));
}
