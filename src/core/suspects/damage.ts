import { TraceBuilder, type Level, type Trace } from '../trace/index.js';
import { median, quantile, type Witness } from './observed.js';

/** What is wrong with a recording and not with what it shows. */
export interface Damage {
	code: 'missing-edges' | 'extra-glitches' | 'cut-both-ends' | 'inverted-probe' | 'swapped-channels' | 'time-base-off';
	recording: string;
	lines: string[];
	/** How often; of a time base by how much it is too long. */
	count: number;
	/** Where the first of it is, in seconds of the recording. */
	at?: number;
}

/** A line with what is wrong in it taken out: glitches away, and what lacks edges unknown. */
export interface Cleaned {
	witness: Witness;
	damage: Damage[];
}

/** Edges that are looked at; a longer line is taken as it is. */
const MOST = 400_000;
/** Pulses that a rhythm is learnt from, at the least. */
const LEAST = 12;
/** A line has a rhythm where so many of its periods lie so near to the middle one. */
const [SHARE, NEAR] = [0.6, 0.08];
/** Glitches are this much shorter than the shorter of both widths. */
const SHORT = 0.3;
/** Damage comes now and then: in no more than this share of the pulses. */
const SELDOM = 0.25;

/**
 * Looks for damage that shows without any plan: what breaks the rhythm that a line has otherwise. `shortest`: the shortest pulse that the plan has on the line, in seconds; 0 where that is not known. What
 * is nearly as long is no glitch.
 */
export function cleaned(witness: Witness, shortest: number): Cleaned {
	const { trace } = witness;
	if (trace.count > MOST || trace.count < 2 * LEAST) return { witness, damage: [] };
	const seconds = trace.meta.unit.toNumber();
	const edges = levelsOf(trace);
	const told = (code: Damage['code'], count: number, at: number | undefined): Damage => ({
		code,
		recording: witness.recording,
		lines: [witness.line],
		count,
		...(at !== undefined && { at: at * seconds })
	});
	const damage: Damage[] = [];
	const { kept, removed } = withoutGlitches(
		edges,
		witness.step.step.div(trace.meta.unit).toNumber(),
		shortest > 0 ? (SHORT * shortest) / seconds : Infinity
	);
	if (removed.length > 0) damage.push(told('extra-glitches', removed.length, removed[0]));
	const gaps = gapsIn(kept);
	if (gaps.length > 0) damage.push(told('missing-edges', gaps.length, gaps[0][0]));
	const ends = stillEnds(kept, trace);
	if (ends) damage.push(told('cut-both-ends', 1, ends[0]));
	if (damage.length === 0) return { witness, damage };
	return { witness: { ...witness, trace: rebuilt(trace, kept, gaps, ends) }, damage };
}

interface Edge {
	time: number;
	level: Level;
}

function levelsOf(trace: Trace): Edge[] {
	return Array.from({ length: trace.count }, (_, i) => ({ time: trace.edgeTime(i), level: trace.levelAfter(i + 1) }));
}

/** The middle width of each level and the middle period; undefined for a line without a rhythm. */
function rhythm(edges: readonly Edge[]): { high: number; low: number; period: number } | undefined {
	const widths: [number[], number[]] = [[], []];
	const rises: number[] = [];
	edges.forEach(({ time, level }, i) => {
		if (level === 1) rises.push(time);
		const next = edges.at(i + 1);
		if (next && level !== 2) widths[level].push(next.time - time);
	});
	const periods = rises.slice(1).map((rise, i) => rise - rises[i]);
	if (periods.length < LEAST - 1) return undefined;
	const period = median(periods);
	const near = periods.filter((one) => Math.abs(one - period) <= NEAR * period).length;
	return near >= SHARE * periods.length ? { high: median(widths[1]), low: median(widths[0]), period } : undefined;
}

/** Takes out pairs of edges that lie much closer than either level ever lasts. */
function withoutGlitches(edges: readonly Edge[], step: number, most: number): { kept: Edge[]; removed: number[] } {
	const beats = rhythm(edges) ?? rhythm(edges.filter((_, i) => !isShort(edges, i)));
	const widths = edges.slice(1).map(({ time }, i) => time - edges[i].time);
	const typical = beats ? Math.min(beats.high, beats.low) : quantile(widths, 0.3);
	const limit = Math.min(SHORT * typical, most);
	if (!(limit > step)) return { kept: [...edges], removed: [] };
	const kept: Edge[] = [];
	const removed: number[] = [];
	for (let i = 0; i < edges.length; i++) {
		const next = edges.at(i + 1);
		if (i + 1 < edges.length && next && next.time - edges[i].time < limit) {
			removed.push(edges[i].time);
			i++;
		} else kept.push(edges[i]);
	}
	return removed.length > 0 && removed.length <= SELDOM * edges.length ? { kept, removed } : { kept: [...edges], removed: [] };
}

function isShort(edges: readonly Edge[], i: number): boolean {
	const around = [edges.at(i + 1), i > 0 ? edges[i - 1] : undefined].flatMap((other) =>
		other ? [Math.abs(other.time - edges[i].time)] : []
	);
	const middle = edges.length > 1 ? (edges[edges.length - 1].time - edges[0].time) / edges.length : 0;
	return Math.min(...around) < (SHORT * middle) / 2;
}

/** Stretches between rises in which the rhythm misses a beat. */
function gapsIn(edges: readonly Edge[]): [number, number][] {
	const beats = rhythm(edges);
	if (!beats) return [];
	const rises = edges.flatMap(({ time, level }) => (level === 1 ? [time] : []));
	const gaps = rises.slice(1).flatMap((rise, i): [number, number][] => {
		const period = rise - rises[i];
		const turns = period / beats.period;
		// A beat that is left out makes a whole number of periods.
		return turns > 1.5 && Math.abs(turns - Math.round(turns)) < NEAR * turns ? [[rises[i], rise]] : [];
	});
	const widths = oddWidths(edges, beats, gaps);
	const all = [...gaps, ...widths].sort((a, b) => a[0] - b[0]);
	return all.length <= SELDOM * rises.length ? all : [];
}

/** Periods as long as any whose high width is not: an edge of each direction is missing from two neighbours. */
function oddWidths(
	edges: readonly Edge[],
	{ high, period }: { high: number; period: number },
	gaps: readonly [number, number][]
): [number, number][] {
	const widths = edges.flatMap(({ time, level }, i) => {
		const next = edges.at(i + 1);
		return level === 1 && next && i + 1 < edges.length ? [{ time, width: next.time - time }] : [];
	});
	const near = widths.filter(({ width }) => Math.abs(width - high) < NEAR * period).length;
	if (near < 0.9 * widths.length) return [];
	return widths
		.filter(({ time, width }) => width > high + 0.5 * period && !gaps.some(([from, to]) => time >= from && time < to))
		.map(({ time, width }): [number, number] => [time, time + width]);
}

/** Where the rhythm stands still at both ends for several beats; times from and to which it runs. */
function stillEnds(edges: readonly Edge[], trace: Trace): [number, number] | undefined {
	const beats = rhythm(edges);
	if (!beats) return undefined;
	const [first, last] = [edges[0].time, edges[edges.length - 1].time];
	const long = 3 * beats.period;
	return first - trace.meta.start > long && trace.meta.end - last > long ? [first, last] : undefined;
}

function rebuilt({ meta }: Trace, edges: readonly Edge[], gaps: readonly [number, number][], ends: [number, number] | undefined): Trace {
	const [start, end] = ends ?? [meta.start, meta.end];
	const builder = new TraceBuilder(meta.initial);
	let gap = 0;
	let level: Level = meta.initial;
	for (const { time, level: to } of edges) {
		while (gap < gaps.length && gaps[gap][1] < time) gap++;
		const inside = gap < gaps.length && time > gaps[gap][0] && time < gaps[gap][1];
		const next: Level = inside ? 2 : to;
		// The unknown begins right behind the last edge that is sure.
		if (next !== level) builder.add(time, next);
		level = next;
	}
	return builder.finish({ unit: meta.unit, start, end });
}
