import type { Laying, LinePair } from './lines.js';

/** Pairs of a planned and a recorded edge, both by their place among those inside the recording; and what the laying costs. */
export interface Matching {
	/** Times at which the laying puts the planned edges inside the recording. */
	planned: Float64Array;
	/** Planned edge of each pair, ascending, and its recorded one. */
	pairs: Pairs;
	cost: number;
	price: number;
}

/** Pairs by number. */
export interface Pairs {
	count: number;
	planned: Int32Array;
	recorded: Int32Array;
}

/**
 * Edges of a line matched in order, each to one of the same direction, so that distances and the prices of those that are left over come to
 * the least. A pair further apart than two prices is worth none. Planned edges are taken in islands: no edge of one can be matched with, or
 * across, an edge of another, so the best of each are the best of all. Nearly every island is one edge with one candidate.
 */
export function matchLine(pair: LinePair, laying: Laying): Matching {
	const { times: planned, up, alternating } = pair.planned(laying);
	const regular = alternating && pair.recordedAlternates;
	const { recordedTimes: recorded, recordedUp } = pair;
	const price = pair.price(laying.ratio);
	const reach = 2 * price;
	const most = Math.min(planned.length, recorded.length);
	const [first, second] = [new Int32Array(most), new Int32Array(most)];
	let [count, gain] = [0, 0];
	// No planned edge from i on has a candidate before j, none before i has one from j on.
	let [i, j] = [0, 0];
	while (i < planned.length && j < recorded.length) {
		if (regular && up[i] === recordedUp[j]) {
			const run = runAlone({ planned, recorded, reach, i, j, first, second, count });
			gain += run.gain;
			count += run.length;
			i += run.length;
			j += run.length;
			if (i === planned.length || j === recorded.length) break;
		}
		while (j < recorded.length && recorded[j] <= planned[i] - reach) j++;
		const from = j;
		while (j < recorded.length && recorded[j] < planned[i] + reach) j++;
		let end = i + 1;
		for (; end < planned.length && j > from && recorded[j - 1] > planned[end] - reach; end++)
			while (j < recorded.length && recorded[j] < planned[end] + reach) j++;
		if (j > from) {
			const island = matchIsland({ planned, up, recorded, recordedUp, reach, first: i, end, from, to: j });
			gain += island.gain;
			for (const [a, b] of island.pairs) {
				first[count] = a;
				second[count++] = b;
			}
		}
		i = end;
	}
	const pairs: Pairs = { count, planned: first, recorded: second };
	return { planned, pairs, cost: price * (planned.length + recorded.length) - gain, price };
}

interface Run {
	planned: Float64Array;
	recorded: Float64Array;
	reach: number;
	/** Where both begin, with an edge of the same direction. */
	i: number;
	j: number;
	/** Where pairs are put, from `count` on. */
	first: Int32Array;
	second: Int32Array;
	count: number;
}

/**
 * Pairs that have no candidates but each other, as many as follow each other, of lines whose directions take turns. So it is where both are
 * within reach, the next recorded edge of the direction is out of this planned one's, and the recorded one here out of that of the next
 * planned one of the direction, and the one before out of that of the next planned one.
 */
function runAlone({ planned, recorded, reach, i, j, first, second, count }: Run): { length: number; gain: number } {
	const most = Math.min(planned.length - i, recorded.length - j);
	let [gain, length] = [0, 0];
	let here = planned[i];
	let next = i + 1 < planned.length ? planned[i + 1] : Infinity;
	let before = j > 0 ? recorded[j - 1] : -Infinity;
	for (; length < most; length++) {
		const a = i + length;
		const b = j + length;
		const edge = recorded[b];
		const distance = Math.abs(edge - here);
		const after = a + 2 < planned.length ? planned[a + 2] : Infinity;
		if (distance >= reach || edge > after - reach || before > next - reach) break;
		if (b + 2 < recorded.length && recorded[b + 2] < here + reach) break;
		gain += reach - distance;
		first[count + length] = a;
		second[count + length] = b;
		before = edge;
		here = next;
		next = after;
	}
	return { length, gain };
}

/** Planned edges from `first` to `end`, and recorded ones from `from` to `to`, ends excluded. */
interface Island {
	planned: Float64Array;
	up: Uint8Array;
	recorded: Float64Array;
	recordedUp: Uint8Array;
	reach: number;
	first: number;
	end: number;
	from: number;
	to: number;
}

/** The chain of pairs of the greatest gain; ties to the earlier edge. */
function matchIsland(island: Island): { gain: number; pairs: [number, number][] } {
	const { planned, up, recorded, recordedUp, reach, first, end, from, to } = island;
	const best = new Prefix(to - from);
	const links: { planned: number; recorded: number; before: number }[] = [];
	let start = from;
	for (let i = first; i < end; i++) {
		while (start < to && recorded[start] < planned[i] - reach) start++;
		// From the last to the first: a planned edge is matched once.
		let last = start;
		while (last < to && recorded[last] <= planned[i] + reach) last++;
		for (let j = last - 1; j >= start; j--) {
			if (recordedUp[j] !== up[i]) continue;
			const gain = reach - Math.abs(recorded[j] - planned[i]);
			if (gain <= 0) continue;
			const before = best.upTo(j - from);
			links.push({ planned: i, recorded: j, before: before.link });
			best.raise(j - from, before.gain + gain, links.length - 1);
		}
	}
	const chain = best.upTo(to - from);
	const pairs: [number, number][] = [];
	for (let at = chain.link; at >= 0; at = links[at].before) pairs.push([links[at].planned, links[at].recorded]);
	return { gain: chain.gain, pairs: pairs.reverse() };
}

/** Greatest gains over the first so many places (a binary indexed tree). */
class Prefix {
	private readonly gains: Float64Array;
	private readonly links: Int32Array;

	constructor(size: number) {
		this.gains = new Float64Array(size + 1);
		this.links = new Int32Array(size + 1).fill(-1);
	}

	/** Of the places before `place`. */
	upTo(place: number): { gain: number; link: number } {
		let [gain, link] = [0, -1];
		for (let i = place; i > 0; i -= i & -i) if (this.gains[i] > gain) [gain, link] = [this.gains[i], this.links[i]];
		return { gain, link };
	}

	raise(place: number, gain: number, link: number): void {
		for (let i = place + 1; i < this.gains.length; i += i & -i) if (gain > this.gains[i]) [this.gains[i], this.links[i]] = [gain, link];
	}
}
