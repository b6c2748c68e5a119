import { apart, commonPeriod, LinePair, type Laying, type PlannedRow, type RecordedRow } from './lines.js';
import { matchLine, type Matching } from './matching.js';
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
}

/** What became of the edges of one line. */
export interface AlignedLine {
	/** Pairs of the time that the laying gives a planned edge, and the recorded one's. */
	matched: [number, number][];
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
/** Edges from which on layings are first weighed by stretches of the recording, and how many are weighed by all of it then. */
const LONG = 4000;
const [STRETCHES, STRETCH] = [8, 150];
const WEIGHED = 4;
/** Turns of laying a line and matching along it. */
const TURNS = 12;

/**
 * Lays a recording on a plan (timers.md 14): the offset, the ratio of the clocks and the matching of edges that cost the least. All lines
 * share one offset and ratio.
 */
export function align(lines: readonly LineToAlign[], settings: AlignSettings): Aligned {
	const pairs = lines.map(({ plan, recorded }) => new LinePair(plan, recorded));
	const known = pairs.filter((pair) => pair.own.times.length > 0 || pair.recordedTimes.length > 0);
	const byRises = { offset: firstRises(pairs), ratio: clamp(1, settings.ratio) };
	if (known.length === 0) return { fits: false, laying: byRises };
	const size = known.reduce((sum, pair) => sum + pair.recordedTimes.length + pair.planned(byRises).times.length, 1);
	const weigh = (layings: readonly Laying[], by: readonly LinePair[]) =>
		layings.map((laying) => refined(by, laying, settings)).sort((a, b) => a.cost - b.cost);
	let likely = likelyLayings(known, settings.ratio);
	if (size > LONG)
		likely = weigh(
			likely,
			known.map((pair) => pair.stretches(STRETCHES, STRETCH))
		)
			.slice(0, WEIGHED)
			.map(({ laying }) => laying);
	const found = weigh(likely, known);
	const best = found.at(0);
	if (!best || !enoughFit(known, best, settings)) return { fits: false, laying: byRises };
	const end = laid(pairs, atStart(pairs, finalLine(known, best, settings)));
	const price = Math.min(...best.matchings.map((one) => one.price));
	const period = commonPeriod(pairs);
	const others: Laying[] = [];
	for (const { cost, laying } of found)
		if (cost < best.cost + NEAR * price && ![best.laying, ...others].some((one) => apart(one, laying, period) < price)) others.push(laying);
	return {
		fits: true,
		laying: end.laying,
		...freedom(pairs, end, settings),
		lines: pairs.map((pair, i) => toldLine(pair, end.matchings[i], settings)),
		cost: best.cost,
		others
	};
}

interface Found {
	laying: Laying;
	matchings: Matching[];
	cost: number;
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
		points(pairs, best, (distance, price) => distance <= price, 1),
		ratio
	);
	const tried = onRises && laid(pairs, onRises);
	return tried && tried.cost <= best.cost * (1 + NEARLY) ? tried : best;
}

/** Points of planned time and recorded time of the matched edges that are taken. */
function points(
	pairs: readonly LinePair[],
	{ laying, matchings }: Found,
	taken: (distance: number, price: number) => boolean = () => true,
	direction?: 0 | 1
): [number, number][] {
	return matchings.flatMap(({ planned, pairs: matched, price }, line) =>
		matched.flatMap(([i, j]): [number, number][] => {
			const recorded = pairs[line].recordedTimes[j];
			if (direction !== undefined && pairs[line].recordedUp[j] !== direction) return [];
			return taken(Math.abs(recorded - planned[i]), price) ? [[(planned[i] - laying.offset) / laying.ratio, recorded]] : [];
		})
	);
}

/** Rounds of weighing after which the least sum is near enough. */
const WEIGHINGS = 12;

/** The straight line of the least sum of distances, from another one on; distances below `blur` count as that. */
function leastSum(all: readonly [number, number][], from: Laying, range: readonly [number, number], blur: number): Laying | undefined {
	let line: Laying | undefined = from;
	for (let round = 0; round < WEIGHINGS && line; round++) {
		const { offset, ratio }: Laying = line;
		line = leastSquares(all, range, (x, y) => 1 / Math.max(blur / 4, Math.abs(y - offset - ratio * x)));
	}
	return line;
}

/** The straight line of least squares whose slope is kept in its range; `weight`: of a point, one where it is left out. */
function leastSquares(
	all: readonly [number, number][],
	range: readonly [number, number],
	weight: (x: number, y: number) => number = () => 1
): Laying | undefined {
	if (all.length === 0) return undefined;
	const weights = all.map(([a, b]) => weight(a, b));
	const whole = weights.reduce((sum, one) => sum + one, 0);
	const mean = (at: 0 | 1) => all.reduce((sum, point, i) => sum + weights[i] * point[at], 0) / whole;
	const [x, y] = [mean(0), mean(1)];
	let [xx, xy] = [0, 0];
	all.forEach(([a, b], i) => {
		xx += weights[i] * (a - x) * (a - x);
		xy += weights[i] * (a - x) * (b - y - (a - x));
	});
	const ratio = clamp(xx > 0 ? 1 + xy / xx : 1, range);
	return { offset: y - ratio * x, ratio };
}

function clamp(value: number, [low, high]: readonly [number, number]): number {
	return Math.min(high, Math.max(low, value));
}

/** The line that is told: least squares through the edges within the budget, or through all that are matched where none is. */
function finalLine(pairs: readonly LinePair[], found: Found, { ratio, budget }: AlignSettings): Laying {
	const near = points(pairs, found, (distance) => distance <= budget);
	return leastSquares(near.length > 0 ? near : points(pairs, found), ratio) ?? found.laying;
}

/** Do at least half of the planned edges inside, and of the recorded ones, lie where they should? */
function enoughFit(pairs: readonly LinePair[], { matchings }: Found, { budget }: AlignSettings): boolean {
	let [fit, planned, recorded] = [0, 0, 0];
	matchings.forEach((matching, line) => {
		const { recordedTimes } = pairs[line];
		const near = Math.max(budget, FIT * matching.price);
		fit += matching.pairs.filter(([i, j]) => Math.abs(matching.planned[i] - recordedTimes[j]) <= near).length;
		planned += matching.planned.length;
		recorded += recordedTimes.length;
	});
	return fit > 0 && 2 * fit >= planned && 2 * fit >= recorded;
}

function toldLine(pair: LinePair, { planned, pairs, price }: Matching, { budget, glitch }: AlignSettings): AlignedLine {
	const { recordedTimes } = pair;
	const matched = pairs.map(([i, j]): [number, number] => [planned[i], recordedTimes[j]]);
	const [usedPlanned, usedRecorded] = [new Set(pairs.map(([i]) => i)), new Set(pairs.map(([, j]) => j))];
	const extra = Array.from(recordedTimes.keys()).filter((j) => !usedRecorded.has(j));
	const glitches: [number, number][] = [];
	for (let k = 0; k + 1 < extra.length; k++) {
		const [a, b] = [extra[k], extra[k + 1]];
		if (b !== a + 1 || recordedTimes[b] - recordedTimes[a] >= glitch) continue;
		glitches.push([recordedTimes[a], recordedTimes[b]]);
		k++;
	}
	// Within half a price of the recording's ends nobody can say whether an edge is missing.
	const margin = price / 2;
	const missing = Array.from(planned.keys())
		.filter((i) => !usedPlanned.has(i))
		.map((i) => planned[i])
		.filter((time) => time - pair.recorded.from > margin && pair.recorded.to - time > margin);
	return {
		matched,
		missing,
		extra: extra.map((j) => recordedTimes[j]),
		glitches,
		off: matched.filter(([place, edge]) => Math.abs(edge - place) > budget)
	};
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

/** How far the line may shift, and tilt, with every edge within the budget staying within it. */
function freedom(
	pairs: readonly LinePair[],
	found: Found,
	{ ratio: range, budget }: AlignSettings
): { offsetKnown: [number, number]; ratioKnown: [number, number] } {
	const line = found.laying;
	const own = points(pairs, found, (distance) => distance <= budget);
	if (own.length === 0) return { offsetKnown: [line.offset, line.offset], ratioKnown: [...range] };
	// Deviations from the line, by planned time from its middle.
	const middle = own.reduce((sum, [x]) => sum + x, 0) / own.length;
	const left = own.map(([x, y]): [number, number] => [x - middle, y - line.offset - line.ratio * x]);
	const room = (tilt: number): [number, number] => {
		let [low, high] = [-Infinity, Infinity];
		for (const [x, y] of left) {
			const rest = y - tilt * x;
			if (rest - budget > low) low = rest - budget;
			if (rest + budget < high) high = rest + budget;
		}
		return [low, high];
	};
	const gap = (tilt: number) => {
		const [low, high] = room(tilt);
		return high - low;
	};
	const ends: [number, number] = [range[0] - line.ratio, range[1] - line.ratio];
	const top = peak(gap, ends);
	const edge = (end: number) => (gap(end) >= 0 ? end : zero(gap, top, end));
	const tilts = gap(top) >= 0 ? [edge(ends[0]), edge(ends[1])] : [top, top];
	const shifts = [...tilts, 0].filter((tilt) => gap(tilt) >= -1e-9).flatMap((tilt) => room(tilt).map((shift) => shift - tilt * middle));
	return {
		offsetKnown: [line.offset + Math.min(0, ...shifts), line.offset + Math.max(0, ...shifts)],
		ratioKnown: [line.ratio + tilts[0], line.ratio + tilts[1]]
	};
}

/** Where a concave function is greatest. */
function peak(of: (x: number) => number, [from, to]: readonly [number, number]): number {
	let [a, b] = [from, to];
	for (let i = 0; i < 100 && b - a > 0; i++) {
		const [c, d] = [a + (b - a) / 3, b - (b - a) / 3];
		if (of(c) < of(d)) a = c;
		else b = d;
	}
	return (a + b) / 2;
}

/** Where a function that is above zero at `inside` and below it at `outside` passes zero. */
function zero(of: (x: number) => number, inside: number, outside: number): number {
	let [a, b] = [inside, outside];
	for (let i = 0; i < 80; i++) {
		const c = (a + b) / 2;
		if (of(c) >= 0) a = c;
		else b = c;
	}
	return a;
}
