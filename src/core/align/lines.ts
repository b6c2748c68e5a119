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

/** One line of a plan with what was recorded of it, made ready: edges of both directions in order, and what one unmatched edge costs. */
export class LinePair {
	readonly recordedTimes: Float64Array;
	/** 1 for a rise, 0 for a fall. */
	readonly recordedUp: Uint8Array;
	private readonly plannedTimes: Float64Array;
	private readonly plannedUp: Uint8Array;
	/** Half the shortest distance of two planned edges, in planned time; undefined for fewer than two edges. */
	private readonly halfShortest: number | undefined;

	constructor(
		readonly plan: PlannedRow,
		readonly recorded: RecordedRow
	) {
		[this.recordedTimes, this.recordedUp] = edgesOf(recorded, (time) => time >= recorded.from && time <= recorded.to && !this.hidden(time));
		[this.plannedTimes, this.plannedUp] = edgesOf(plan, () => true);
		const { plannedTimes: times } = this;
		let shortest = Infinity;
		for (let i = 1; i < times.length; i++) shortest = Math.min(shortest, times[i] - times[i - 1]);
		if (plan.period !== undefined && times.length > 0) shortest = Math.min(shortest, times[0] + plan.period - times[times.length - 1]);
		this.halfShortest = shortest < Infinity ? shortest / 2 : undefined;
	}

	/** What an edge without a match costs, in recorded time. */
	price(ratio: number): number {
		return (this.halfShortest ?? (this.recorded.to - this.recorded.from) / 2) * ratio;
	}

	/** Planned edges of one period, or all of them: their times and directions. */
	get own(): { times: Float64Array; up: Uint8Array } {
		return { times: this.plannedTimes, up: this.plannedUp };
	}

	/** Planned edges that a laying puts inside the recording, where they fall. */
	planned({ offset, ratio }: Laying): { times: Float64Array; up: Uint8Array } {
		const { plannedTimes, plannedUp, plan, recorded } = this;
		const inside: number[] = [];
		const up: number[] = [];
		const add = (time: number, direction: number) => {
			if (time < recorded.from || time > recorded.to || this.hidden(time)) return;
			inside.push(time);
			up.push(direction);
		};
		const { period } = plan;
		if (period === undefined || plannedTimes.length === 0) plannedTimes.forEach((time, i) => add(offset + ratio * time, plannedUp[i]));
		else {
			const first = Math.floor((recorded.from - offset) / ratio / period) - 1;
			const last = Math.ceil((recorded.to - offset) / ratio / period) + 1;
			for (let turn = first; turn <= last; turn++)
				for (let i = 0; i < plannedTimes.length; i++) add(offset + ratio * (turn * period + plannedTimes[i]), plannedUp[i]);
		}
		return { times: Float64Array.from(inside), up: Uint8Array.from(up) };
	}

	/** The same with stretches of so many recorded edges alone, spread over the recording: what lies between is as unknown. */
	stretches(count: number, edges: number): LinePair {
		const { recordedTimes: times, recorded, plan } = this;
		if (times.length < 2 * count * edges) return this;
		const unknown: [number, number][] = [...(recorded.unknown ?? [])].map(([a, b]) => [a, b]);
		let from = recorded.from;
		for (let k = 0; k < count; k++) {
			const first = Math.floor(((times.length - edges) * k) / (count - 1));
			unknown.push([from, times[first] - 1e-9 * Math.abs(times[first]) - 1]);
			from = times[first + edges - 1] + 1e-9 * Math.abs(times[first + edges - 1]) + 1;
		}
		unknown.push([from, recorded.to]);
		return new LinePair(plan, { ...recorded, unknown });
	}

	/** Does a moment lie in a stretch of unknown level, its ends included? */
	private hidden(time: number): boolean {
		return this.recorded.unknown?.some(([from, to]) => time >= from && time <= to) ?? false;
	}
}

function edgesOf({ initial, times, levels }: EdgeRow, kept: (time: number) => boolean): [Float64Array, Uint8Array] {
	const found: number[] = [];
	const up: number[] = [];
	let level: number = initial;
	for (let i = 0; i < times.length; i++) {
		const next = levels ? levels[i] : 1 - level;
		if (next !== level && next !== 2 && level !== 2 && kept(times[i])) {
			found.push(times[i]);
			up.push(next);
		}
		level = next;
	}
	return [Float64Array.from(found), Uint8Array.from(up)];
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
