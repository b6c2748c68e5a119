import { apart, commonPeriod, LinePair, type Laying, type PlannedRow, type RecordedRow } from './lines.js';
import { freedom, type Matched } from './freedom.js';
import { longLayings } from './long.js';
import { matchLine, type Matching, type Pairs } from './matching.js';
import { leastSquares, leastSum, Moments, Points } from './points.js';
import { likelyLayings } from './search.js';

/** A recorded line and the planned one that it shows. */
export interface LineToAlign {
	plan: PlannedRow;
	recorded: RecordedRow;
}

export interface AlignSettings {
	/** The ratio of the two clocks lies between these, both included. */
	ratio: readonly [number, number];
	/** How far an edge may lie from its place and count as there. */
	budget: number;
	/** Neighbouring extra edges closer than this are a glitch. */
	glitch: number;
	/** It lies so because somebody said so. */
	at?: Laying;
}

/** What became of the edges of one line. */
export interface AlignedLine {
	/** Of each matched pair the time that the laying gives the planned edge, and the recorded one's. */
	matched: Matched;
	/** Planned edges inside the recording without a recorded one, by where they should lie. */
	missing: number[];
	/** Recorded edges without a planned one, those of glitches too. */
	extra: number[];
	/** Pairs of neighbouring extra edges. */
	glitches: [number, number][];
	/** Matched edges further than the budget from their place: place and edge. */
	off: [number, number][];
}

export type Aligned =
	| { fits: false; laying: Laying }
	| {
			fits: true;
			laying: Laying;
			/** How far offset and ratio may go with all edges within the budget staying there. */
			offsetKnown: [number, number];
			ratioKnown: [number, number];
			lines: AlignedLine[];
			cost: number;
			/** Other places where the recording fits nearly as well. */
			others: Laying[];
	  };

/** Another laying is told when it costs less than so many prices more. */
const NEAR = 6;
/** Costs that differ by this share are as good as the same: recorded times are whole numbers. */
const NEARLY = 0.02;
/** An edge fits when it lies within the budget, or this share of a price. */
const FIT = 1 / 4;
/** Recorded edges from which on a laying is looked for in parts of the recording first. */
const LONG = 2000;
/** Turns of laying a line and matching along it. */
const TURNS = 12;

/**
 * Lays a recording on a plan (timers.md 14): the offset, the ratio of the clocks and the matching of edges that cost the least. All lines
 * share one offset and ratio.
 */
export function align(lines: readonly LineToAlign[], settings: AlignSettings): Aligned {
	const pairs = lines.map(({ plan, recorded }) => LinePair.of(plan, recorded));
	const known = pairs.filter((pair) => pair.own.times.length > 0 || pair.recordedTimes.length > 0);
	if (settings.at) return laidAt(pairs, settings.at, settings);
	const byRises = { offset: firstRises(pairs), ratio: Math.min(settings.ratio[1], Math.max(settings.ratio[0], 1)) };
	if (known.length === 0) return { fits: false, laying: byRises };
	const edges = known.reduce((sum, pair) => sum + pair.recordedTimes.length, 0);
	if (tooFew(known, settings)) return { fits: false, laying: byRises };
	const tools: Tools = { refine: (by, from) => refined(by, from, settings), share: (by, one) => fitShare(by, one, settings) };
	const found =
		edges > LONG
			? longLayings(known, settings.ratio, tools).map((laying) => laid(known, laying))
			: likelyLayings(known, settings.ratio).map((laying) => refined(known, laying, settings));
	found.sort((a, b) => a.cost - b.cost);
	const best = found.at(0);
	if (!best || fitShare(known, best, settings) < HALF) return { fits: false, laying: byRises };
	const end = laid(pairs, atStart(pairs, finalLine(known, best, settings)));
	const price = Math.min(...best.matchings.map((one) => one.price));
	const period = commonPeriod(pairs);
	const others: Laying[] = [];
	for (const { cost, laying } of found)
		if (cost < best.cost + NEAR * price && ![best.laying, ...others].some((one) => apart(one, laying, period) < price)) others.push(laying);
	const told = pairs.map((pair, i) => toldLine(pair, end.matchings[i], settings));
	return {
		fits: true,
		laying: end.laying,
		...freedom(
			told.map(({ matched }) => matched),
			end.laying,
			settings
		),
		lines: told,
		cost: best.cost,
		others
	};
}

/** Whatever fits or not: where it was laid, with the matching along that. */
function laidAt(pairs: readonly LinePair[], at: Laying, settings: AlignSettings): Aligned {
	const { laying, matchings, cost } = laid(pairs, at);
	return {
		fits: true,
		laying,
		offsetKnown: [laying.offset, laying.offset],
		ratioKnown: [laying.ratio, laying.ratio],
		lines: pairs.map((pair, i) => toldLine(pair, matchings[i], settings)),
		cost,
		others: []
	};
}

/** A laying with the matching along it. */
export interface Found {
	laying: Laying;
	matchings: Matching[];
	cost: number;
}

/** What the search in parts of a long recording weighs layings by. */
export interface Tools {
	refine(pairs: readonly LinePair[], from: Laying): Found;
	share(pairs: readonly LinePair[], found: Found): number;
}

function laid(pairs: readonly LinePair[], laying: Laying): Found {
	const matchings = pairs.map((pair) => matchLine(pair, laying));
	return { laying, matchings, cost: matchings.reduce((sum, { cost }) => sum + cost, 0) };
}

/** The line through what is matched, and the matching along that line, in turns, as long as it gets cheaper. */
function refined(pairs: readonly LinePair[], from: Laying, { ratio, budget }: AlignSettings): Found {
	let best = laid(pairs, from);
	for (let turn = 0; turn < TURNS; turn++) {
		const all = points(pairs, best);
		// Edges that are far off pull a line of least squares away: that of the least sum of distances is tried too.
		const lines = [leastSquares(all, ratio), leastSum(all, best.laying, ratio, budget)];
		const tried = lines.flatMap((line) => (line ? [laid(pairs, line)] : [])).sort((a, b) => a.cost - b.cost)[0];
		if (!tried || tried.cost >= best.cost - 1e-9 * best.cost) break;
		best = tried;
	}
	// Between two lines that cost the same, the one on which rises lie is the one that people would draw.
	const onRises = leastSquares(
		points(pairs, best, (price) => price, 1),
		ratio
	);
	const tried = onRises && laid(pairs, onRises);
	return tried && tried.cost <= best.cost * (1 + NEARLY) ? tried : best;
}

/** Points of planned time and recorded time of the matched edges no further from their place than a limit, which may hang on the line's price. */
function points(
	pairs: readonly LinePair[],
	{ laying, matchings }: Found,
	limit: (price: number) => number = () => Infinity,
	direction?: 0 | 1
): Points {
	const all = new Points(matchings.reduce((sum, { pairs: matched }) => sum + matched.count, 0));
	matchings.forEach((matching, line) => addPoints(all, pairs[line], matching, laying, limit(matching.price), direction));
	return all;
}

function addPoints(all: Points, pair: LinePair, matching: Matching, laying: Laying, limit: number, direction: 0 | 1 | undefined): void {
	const { recordedTimes, recordedUp } = pair;
	const { planned, pairs } = matching;
	const { offset, ratio } = laying;
	const { x, y } = all;
	let { count } = all;
	for (let k = 0; k < pairs.count; k++) {
		const recorded = pairs.recorded[k];
		if (direction !== undefined && recordedUp[recorded] !== direction) continue;
		const place = planned[pairs.planned[k]];
		const edge = recordedTimes[recorded];
		if (Math.abs(edge - place) > limit) continue;
		x[count] = (place - offset) / ratio;
		y[count++] = edge;
	}
	all.count = count;
}

/** The line that is told: least squares through the edges within the budget, or through all that are matched where none is. */
function finalLine(pairs: readonly LinePair[], found: Found, { ratio, budget }: AlignSettings): Laying {
	const through = (limit: number) => {
		const moments = new Moments(found.laying);
		found.matchings.forEach(({ planned, pairs: matched }, line) => moments.add(planned, pairs[line].recordedTimes, matched, limit));
		return moments.line(ratio);
	};
	return through(budget) ?? through(Infinity) ?? found.laying;
}

/** Steady plans of more than twice the edges that were recorded cannot fit, however they are laid. */
function tooFew(pairs: readonly LinePair[], { ratio }: AlignSettings): boolean {
	if (pairs.some(({ plan }) => plan.period === undefined)) return false;
	const recorded = pairs.reduce((sum, pair) => sum + pair.recordedTimes.length, 0);
	const planned = pairs.reduce((sum, pair) => sum + pair.plannedCount(ratio[1]) - 2 * pair.own.times.length, 0);
	return HALF * planned > recorded;
}

/** Nothing fits below this share. */
const HALF = 1 / 2;

/** The share of the planned edges inside, and of the recorded ones, that lie where they should: the lesser of both. */
function fitShare(pairs: readonly LinePair[], { matchings }: Found, { budget }: AlignSettings): number {
	let [fit, planned, recorded] = [0, 0, 0];
	matchings.forEach((matching, line) => {
		const { recordedTimes } = pairs[line];
		fit += fitting(matching, recordedTimes, Math.max(budget, FIT * matching.price));
		planned += matching.planned.length;
		recorded += recordedTimes.length;
	});
	return fit > 0 ? fit / Math.max(planned, recorded) : 0;
}

function fitting({ planned, pairs }: Matching, recorded: Float64Array, near: number): number {
	let fit = 0;
	for (let k = 0; k < pairs.count; k++) if (Math.abs(planned[pairs.planned[k]] - recorded[pairs.recorded[k]]) <= near) fit++;
	return fit;
}

function toldLine(pair: LinePair, { planned, pairs, price }: Matching, { budget, glitch }: AlignSettings): AlignedLine {
	const { recordedTimes } = pair;
	const matched = matchedOf(planned, recordedTimes, pairs);
	const { places, edges } = matched;
	const off: [number, number][] = [];
	for (let k = 0; k < pairs.count; k++) if (Math.abs(edges[k] - places[k]) > budget) off.push([places[k], edges[k]]);
	// Within half a price of the recording's ends nobody can say whether an edge is missing.
	const margin = price / 2;
	const missing = leftOver(planned.length, pairs.planned, pairs.count)
		.map((i) => planned[i])
		.filter((time) => time - pair.recorded.from > margin && pair.recorded.to - time > margin);
	const extra = leftOver(recordedTimes.length, pairs.recorded, pairs.count);
	const glitches: [number, number][] = [];
	for (let k = 0; k + 1 < extra.length; k++) {
		const [a, b] = [extra[k], extra[k + 1]];
		if (b !== a + 1 || recordedTimes[b] - recordedTimes[a] >= glitch) continue;
		glitches.push([recordedTimes[a], recordedTimes[b]]);
		k++;
	}
	return { matched, missing, extra: extra.map((j) => recordedTimes[j]), glitches, off };
}

/** Of each pair the place and the edge. */
function matchedOf(planned: Float64Array, recorded: Float64Array, { count, planned: first, recorded: second }: Pairs): Matched {
	// Pairs ascend: where nothing is left over, each has its own number.
	if (count === planned.length && count === recorded.length) return { count, places: planned, edges: recorded.slice() };
	const [places, edges] = [new Float64Array(count), new Float64Array(count)];
	for (let k = 0; k < count; k++) {
		places[k] = planned[first[k]];
		edges[k] = recorded[second[k]];
	}
	return { count, places, edges };
}

/** Numbers below `count` that are not among those that are used, which ascend. */
function leftOver(count: number, used: Int32Array, length: number): number[] {
	if (length === count) return [];
	const left: number[] = [];
	let k = 0;
	for (let i = 0; i < count; i++) {
		if (k < length && used[k] === i) k++;
		else left.push(i);
	}
	return left;
}

/** The first rise of both lines laid together: where nothing better is known. */
function firstRises(pairs: readonly LinePair[]): number {
	for (const { own, recordedTimes, recordedUp } of pairs) {
		const [planned, recorded] = [own.up.indexOf(1), recordedUp.indexOf(1)];
		if (planned >= 0 && recorded >= 0) return recordedTimes[recorded] - own.times[planned];
	}
	return pairs[0]?.recorded.from ?? 0;
}

/** Of a steady plan the first place of planned time 0 at or after the recording's start. */
function atStart(pairs: readonly LinePair[], { offset, ratio }: Laying): Laying {
	const period = commonPeriod(pairs);
	if (period === undefined) return { offset, ratio };
	const from = Math.min(...pairs.map(({ recorded }) => recorded.from));
	const turn = period * ratio;
	return { offset: offset + Math.ceil((from - offset) / turn) * turn, ratio };
}
