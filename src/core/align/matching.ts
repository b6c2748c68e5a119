import type { Laying, LinePair } from './lines.js';

/** Pairs of a planned and a recorded edge, both by their place among those inside the recording; and what the laying costs. */
export interface Matching {
	/** Times at which the laying puts the planned edges inside the recording. */
	planned: Float64Array;
	/** Planned edge of each pair, ascending, and its recorded one. */
	pairs: [number, number][];
	cost: number;
	price: number;
}

/**
 * Edges of a line matched in order, each to one of the same direction, so that distances and the prices of those that are left over come to
 * the least. A pair further apart than two prices is worth none.
 */
export function matchLine(pair: LinePair, laying: Laying): Matching {
	const { times: planned, up } = pair.planned(laying);
	const { recordedTimes: recorded, recordedUp } = pair;
	const price = pair.price(laying.ratio);
	const reach = 2 * price;
	// The greatest gain of a chain of pairs that ends at a recorded edge or before; ties to the earlier edge.
	const best = new Prefix(recorded.length);
	const links: { planned: number; recorded: number; before: number }[] = [];
	let first = 0;
	for (let i = 0; i < planned.length; i++) {
		while (first < recorded.length && recorded[first] < planned[i] - reach) first++;
		// From the last to the first: a planned edge is matched once.
		let last = first;
		while (last < recorded.length && recorded[last] <= planned[i] + reach) last++;
		for (let j = last - 1; j >= first; j--) {
			if (recordedUp[j] !== up[i]) continue;
			const gain = reach - Math.abs(recorded[j] - planned[i]);
			if (gain <= 0) continue;
			const before = best.upTo(j);
			links.push({ planned: i, recorded: j, before: before.link });
			best.raise(j, before.gain + gain, links.length - 1);
		}
	}
	const end = best.upTo(recorded.length);
	const pairs: [number, number][] = [];
	for (let at = end.link; at >= 0; at = links[at].before) pairs.push([links[at].planned, links[at].recorded]);
	return { planned, pairs: pairs.reverse(), cost: price * (planned.length + recorded.length) - end.gain, price };
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
