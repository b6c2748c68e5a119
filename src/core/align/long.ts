import { lowerBound } from '../trace/index.js';
import type { Found, Tools } from './align.js';
import { apart, commonPeriod, type Laying, type LinePair } from './lines.js';
import { likelyLayings } from './search.js';

/** Edges of the busiest line that the first part holds, and how much longer each part is than the one before. */
const [HEAD, GROWTH] = [400, 4];
/** A part is weighed by stretches: so many of so many edges of each line, spread over it. */
const [STRETCHES, STRETCH] = [8, 150];
/** Layings that are followed from part to part, and those that all edges are laid by in the end. */
const [FOLLOWED, WEIGHED] = [3, 4];
/** Another laying is told when it costs less than so many prices more. */
const NEAR = 6;
/** A laying that so many edges fit needs no others beside it. */
const SURE = 0.9;
/** Layings closer than this share of a price are the same. */
const SAME = 0.25;

/**
 * Layings of a long recording, best first: found in a short part of it, where the ratio of the clocks hardly matters, and followed through
 * longer and longer parts, each of which tells the ratio so well that no edge is taken for its neighbour in the next.
 */
export function longLayings(pairs: readonly LinePair[], ratio: readonly [number, number], tools: Tools): Laying[] {
	const whole = stretched(pairs, -Infinity, Infinity);
	const found: Found[] = [];
	const weigh = (layings: readonly Laying[]) => found.push(...layings.map((laying) => tools.refine(whole, laying)));
	for (const centre of [0.5, 0.1, 0.9]) {
		weigh(followed(pairs, centre, ratio, tools));
		if (found.some((one) => tools.share(whole, one) >= SURE)) break;
	}
	// Lines that hardly move in any short part need all of the recording.
	if (!found.some((one) => tools.share(whole, one) >= SURE)) weigh(likelyLayings(pairs, ratio));
	const [best, ...others] = distinct(found, pairs);
	if (!best) return [];
	const price = Math.min(...best.matchings.map((one) => one.price));
	return [best, ...others.filter(({ cost }) => cost < best.cost + NEAR * price)].slice(0, WEIGHED).map(({ laying }) => laying);
}

/** The likeliest layings of a part around a place of the recording (0: its start, 1: its end), followed until the part is all of it. */
function followed(pairs: readonly LinePair[], centre: number, ratio: readonly [number, number], tools: Tools): Laying[] {
	const { recordedTimes: times } = pairs.reduce((a, b) => (b.recordedTimes.length > a.recordedTimes.length ? b : a));
	const middle = Math.floor(centre * times.length);
	const within = (edges: number): [number, number] => {
		const first = Math.max(0, Math.min(middle - Math.floor(edges / 2), times.length - edges));
		return [times[first], times[Math.min(times.length - 1, first + edges)]];
	};
	const head = stretched(pairs, ...within(HEAD));
	let layings = distinct(
		likelyLayings(head, ratio).map((laying) => tools.refine(head, laying)),
		head
	).map(({ laying }) => laying);
	for (let edges = HEAD; edges < times.length; edges *= GROWTH) {
		const part = stretched(pairs, ...within(edges));
		const again = layings.slice(0, FOLLOWED).map((laying) => tools.refine(part, laying));
		layings = distinct(again, part).map(({ laying }) => laying);
	}
	return layings.slice(0, FOLLOWED);
}

/** Each once, the cheapest first. */
function distinct(found: readonly Found[], pairs: readonly LinePair[]): Found[] {
	const period = commonPeriod(pairs);
	const kept: Found[] = [];
	for (const one of [...found].sort((a, b) => a.cost - b.cost)) {
		const price = Math.min(...one.matchings.map((each) => each.price));
		if (!kept.some(({ laying }) => apart(laying, one.laying, period) < SAME * price)) kept.push(one);
	}
	return kept;
}

/** What lies between two times, by stretches. */
function stretched(pairs: readonly LinePair[], from: number, to: number): LinePair[] {
	return pairs.map((pair) => {
		const { recordedTimes: times } = pair;
		const first = lowerBound(times, times.length, from);
		const end = to === Infinity ? times.length : lowerBound(times, times.length, to);
		if (end - first < 2 * STRETCHES * STRETCH) return first === 0 && end === times.length ? pair : pair.excerpt([[first, end]]);
		return pair.excerpt(
			Array.from({ length: STRETCHES }, (_, k): [number, number] => {
				const start = first + Math.floor(((end - first - STRETCH) * k) / (STRETCHES - 1));
				return [start, start + STRETCH];
			})
		);
	});
}
