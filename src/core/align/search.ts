import { apart, commonPeriod, type Laying, type LinePair } from './lines.js';

/** Recorded edges that vote for a laying, spread over the recording: as many as the work allows. */
const [LEAST_VOTERS, MOST_VOTERS] = [12, 48];
const MOST_VOTES = 1e8;
/** Layings that are looked at closely. */
const MOST = 64;
/** Offsets that are kept of one ratio. */
const KEPT = 8;
/** Steps of the ratio that are tried at the most, and bins that offsets are counted in. */
const MOST_RATIOS = 6000;
const MOST_BINS = 4_000_000;

interface Vote {
	laying: Laying;
	votes: number;
}

/**
 * Layings that many edges speak for: for every ratio, in steps so small that no edge moves by more than a quarter of a price from one to the
 * next, each of a few recorded edges says which offsets would put a planned edge of its direction onto it.
 */
export function likelyLayings(pairs: readonly LinePair[], [lowest, highest]: readonly [number, number]): Laying[] {
	const from = Math.min(...pairs.map(({ recorded }) => recorded.from));
	const to = Math.max(...pairs.map(({ recorded }) => recorded.to));
	const price = Math.min(...pairs.map((pair) => pair.price(1)));
	const span = Math.max(1, to - from);
	const count = Math.min(MOST_RATIOS, Math.max(1, Math.ceil(((highest - lowest) * span * 2) / price) + 1));
	const votes: Vote[] = [];
	const choices = Math.max(1, ...pairs.map(({ own }) => own.times.length));
	const voters = Math.min(MOST_VOTERS, Math.max(LEAST_VOTERS, Math.floor(MOST_VOTES / (choices * count * pairs.length))));
	const booth = new Booth(pairs, { voters, width: price / 2, from, to });
	for (let k = 0; k < count; k++) {
		const ratio = count === 1 ? (lowest + highest) / 2 : lowest + ((highest - lowest) * k) / (count - 1);
		votes.push(...booth.count(ratio));
	}
	votes.sort((a, b) => b.votes - a.votes);
	return distinct(votes, price, span, pairs).map(({ laying }) => laying);
}

/** The best of those that say the same. */
function distinct(votes: readonly Vote[], price: number, span: number, pairs: readonly LinePair[]): Vote[] {
	const kept: Vote[] = [];
	const period = commonPeriod(pairs);
	for (const vote of votes) {
		if (kept.length === MOST) break;
		const alike = kept.some(
			({ laying }) => Math.abs(laying.ratio - vote.laying.ratio) * span <= price && apart(laying, vote.laying, period) < price / 2
		);
		if (!alike) kept.push(vote);
	}
	return kept;
}

/** Counts votes for offsets at one ratio. */
class Booth {
	private readonly voters: { times: number[]; up: number[]; pair: LinePair }[];
	private readonly bins: Uint16Array;
	private readonly touched: Int32Array;
	private readonly least: number;
	private readonly width: number;
	private readonly from: number;
	private readonly period: number | undefined;

	constructor(pairs: readonly LinePair[], { voters, width, from, to }: { voters: number; width: number; from: number; to: number }) {
		this.from = from;
		this.period = commonPeriod(pairs);
		this.voters = pairs.map((pair) => {
			const { recordedTimes, recordedUp } = pair;
			const stride = Math.max(1, recordedTimes.length / voters);
			const chosen = Array.from({ length: Math.min(voters, recordedTimes.length) }, (_, i) => Math.floor((i + 0.5) * stride));
			return { times: chosen.map((i) => recordedTimes[i]), up: chosen.map((i) => recordedUp[i]), pair };
		});
		const ends = pairs.map(({ own: { times } }) => (times.length > 0 ? [times[0], times[times.length - 1]] : [0, 0]));
		const reach = Math.max(...ends.map(([a, b]) => Math.max(Math.abs(a), Math.abs(b)))) * 1.1;
		this.least = this.period === undefined ? from - reach : 0;
		const size = this.period === undefined ? to - from + 2 * reach : 1.1 * this.period;
		const bins = Math.min(MOST_BINS, Math.ceil(size / width) + 4);
		this.width = Math.max(width, size / (bins - 4));
		this.bins = new Uint16Array(bins);
		this.touched = new Int32Array(voters * pairs.reduce((sum, { own }) => sum + own.times.length, 0));
	}

	count(ratio: number): Vote[] {
		const { bins, touched, width, least, period, from } = this;
		const turn = period === undefined ? undefined : period * ratio;
		let [used, most] = [0, 0];
		for (const { times, up, pair } of this.voters) {
			const { times: planned, up: directions } = pair.own;
			for (let v = 0; v < times.length; v++)
				for (let i = 0; i < planned.length; i++) {
					if (directions[i] !== up[v]) continue;
					let offset = times[v] - ratio * planned[i];
					if (turn !== undefined) offset -= from + Math.floor((offset - from) / turn) * turn;
					const bin = Math.floor((offset - least) / width) + 1;
					if (bin < 1 || bin >= bins.length - 1) continue;
					if (bins[bin]++ === 0) touched[used++] = bin;
					if (bins[bin] > most) most = bins[bin];
				}
		}
		// Of a circle the ends are neighbours.
		const last = turn === undefined ? 0 : Math.floor((turn - least) / width) + 1;
		const around = (bin: number) =>
			bins[bin] + Math.max(bins[bin - 1], bins[bin + 1], bin === 1 && last ? bins[last] : 0, last && bin === last ? bins[1] : 0);
		const top: Vote[] = [];
		for (let k = 0; k < used; k++) {
			const bin = touched[k];
			const enough = top.length === KEPT ? top[KEPT - 1].votes : 0;
			if (bins[bin] + most <= enough) continue;
			const votes = around(bin);
			if (votes <= enough) continue;
			const offset = least + (bin - 0.5) * width + (turn === undefined ? 0 : from);
			const same = top.findIndex(({ laying }) => Math.abs(laying.offset - offset) < 1.5 * width);
			if (same >= 0 && top[same].votes >= votes) continue;
			const vote = { laying: { offset, ratio }, votes };
			if (same < 0) top.push(vote);
			else top[same] = vote;
			top.sort((a, b) => b.votes - a.votes);
			top.length = Math.min(top.length, KEPT);
		}
		for (let k = 0; k < used; k++) bins[touched[k]] = 0;
		return top;
	}
}
