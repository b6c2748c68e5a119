import type { Laying } from './lines.js';

/** Points of planned and recorded time. */
export class Points {
	count = 0;
	readonly x: Float64Array;
	readonly y: Float64Array;

	constructor(most: number) {
		this.x = new Float64Array(most);
		this.y = new Float64Array(most);
	}
}

/** Rounds of weighing after which the least sum is near enough. */
const WEIGHINGS = 12;

/** The straight line of the least sum of distances, from another one on; distances below `blur` count as that. */
export function leastSum(all: Points, from: Laying, range: readonly [number, number], blur: number): Laying | undefined {
	let line: Laying | undefined = from;
	const weights = new Float64Array(all.count);
	for (let round = 0; round < WEIGHINGS && line; round++) {
		const { offset, ratio }: Laying = line;
		for (let i = 0; i < all.count; i++) weights[i] = 1 / Math.max(blur / 4, Math.abs(all.y[i] - offset - ratio * all.x[i]));
		line = leastSquares(all, range, weights);
	}
	return line;
}

/** The straight line of least squares whose slope is kept in its range; `weights` by point, one each where they are left out. */
export function leastSquares({ x, y, count }: Points, [low, high]: readonly [number, number], weights?: Float64Array): Laying | undefined {
	if (count === 0) return undefined;
	let [sum, sumX, sumY] = [0, 0, 0];
	for (let i = 0; i < count; i++) {
		const weight = weights ? weights[i] : 1;
		sum += weight;
		sumX += weight * x[i];
		sumY += weight * y[i];
	}
	const [middleX, middleY] = [sumX / sum, sumY / sum];
	let [xx, xy] = [0, 0];
	for (let i = 0; i < count; i++) {
		const [a, b] = [x[i] - middleX, y[i] - middleY];
		const weight = weights ? weights[i] : 1;
		xx += weight * a * a;
		xy += weight * a * (b - a);
	}
	const ratio = Math.min(high, Math.max(low, xx > 0 ? 1 + xy / xx : 1));
	return { offset: middleY - ratio * middleX, ratio };
}

/** Moments of edges about where a laying puts them: the line of least squares through any number of them, without keeping them. */
export class Moments {
	private count = 0;
	/** The place that sums are taken from, so that they stay small beside what they tell. */
	private origin = 0;
	private readonly sums = { x: 0, off: 0, xx: 0, xOff: 0 };

	constructor(private readonly from: Laying) {}

	/** Takes the pairs whose edge lies no further from its place than a limit. */
	add(
		planned: Float64Array,
		recorded: Float64Array,
		pairs: { count: number; planned: Int32Array; recorded: Int32Array },
		limit: number
	): void {
		if (this.count === 0 && pairs.count > 0) this.origin = planned[pairs.planned[0]];
		const { origin, sums } = this;
		let [count, x, off, xx, xOff] = [0, 0, 0, 0, 0];
		for (let k = 0; k < pairs.count; k++) {
			const place = planned[pairs.planned[k]];
			const away = recorded[pairs.recorded[k]] - place;
			if (away > limit || away < -limit) continue;
			const at = place - origin;
			count++;
			x += at;
			off += away;
			xx += at * at;
			xOff += at * away;
		}
		this.count += count;
		sums.x += x;
		sums.off += off;
		sums.xx += xx;
		sums.xOff += xOff;
	}

	/** The line, its slope kept in its range; undefined where no pair was taken. */
	line([low, high]: readonly [number, number]): Laying | undefined {
		const { count, origin, from, sums } = this;
		if (count === 0) return undefined;
		const [middle, off] = [sums.x / count, sums.off / count];
		const spread = sums.xx - count * middle * middle;
		const slope = spread > 0 ? from.ratio * (1 + (sums.xOff - count * middle * off) / spread) : 1;
		const ratio = Math.min(high, Math.max(low, slope));
		// Through the middle of the places, by planned time.
		return { offset: origin + middle + off - (ratio * (origin + middle - from.offset)) / from.ratio, ratio };
	}
}
