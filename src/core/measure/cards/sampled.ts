import type { SampleBlock } from '../../trace/index.js';
import type { Window } from '../pulse.js';
import { SeriesBuilder, type Series } from './series.js';

/** What is measured on the samples themselves: the level of each high or low stretch, and how steeply each edge rises or falls. */
export type SampledOf = 'top' | 'base' | 'rise' | 'fall';

/** A stretch counts as high above nine tenths of the way from the low to the high level, as low below one tenth. */
const [LOW_PART, HIGH_PART] = [0.1, 0.9];

/**
 * Measures an analogue line as its samples come, between two levels: volts, or whatever its values are in, as the mean of the samples of a
 * stretch that is over before the window ends; volts a unit of time as the slope of an edge between a tenth and nine tenths of the way.
 */
export class SampleMeter {
	private readonly series: SeriesBuilder;
	private readonly low: number;
	private readonly high: number;
	/** Where the line is: 1 above, -1 below, 0 not known yet. */
	private side = 0;
	private sum = 0;
	private count = 0;
	private from = 0;
	/** When the line left the lower or the upper part for the last time. */
	private left: number | undefined;
	private before: { time: number; value: number } | undefined;

	constructor(
		private readonly of: SampledOf,
		levels: { low: number; high: number },
		private readonly window: Window
	) {
		const span = levels.high - levels.low;
		[this.low, this.high] = [levels.low + LOW_PART * span, levels.low + HIGH_PART * span];
		this.series = new SeriesBuilder(of === 'top' || of === 'base' ? 'level' : 'slew');
	}

	push({ times, values }: SampleBlock): void {
		for (let i = 0; i < times.length; i++) {
			if (times[i] < this.window.start) continue;
			if (times[i] >= this.window.end) return;
			this.add(times[i], values[i]);
		}
	}

	finish(): Series {
		return this.series.finish();
	}

	private add(time: number, value: number): void {
		const { before } = this;
		if (value !== value) {
			// Nothing is known across a stretch without values.
			[this.side, this.count, this.left, this.before] = [0, 0, undefined, undefined];
			return;
		}
		this.before = { time, value };
		const side = value >= this.high ? 1 : value <= this.low ? -1 : 0;
		if (side === 0) {
			if (before && this.side !== 0 && this.sideOf(before.value) === this.side)
				this.left = crossing(before, this.before, this.side > 0 ? this.high : this.low);
			return;
		}
		if (side === this.side) {
			this.sum += value;
			this.count++;
			this.left = undefined;
			return;
		}
		if (this.side !== 0) this.edge(before!, side);
		this.side = side;
		[this.sum, this.count, this.from, this.left] = [value, 1, time, undefined];
	}

	/** The stretch before is over; an edge to the other side ends here. */
	private edge(before: { time: number; value: number }, side: number): void {
		if ((this.of === 'top' && side < 0) || (this.of === 'base' && side > 0)) this.series.add(this.from, this.sum / this.count);
		if ((this.of === 'rise' && side < 0) || (this.of === 'fall' && side > 0) || this.of === 'top' || this.of === 'base') return;
		const [leaves, comes] = side > 0 ? [this.low, this.high] : [this.high, this.low];
		const left = this.left ?? crossing(before, this.before!, leaves);
		const came = crossing(before, this.before!, comes);
		if (came > left) this.series.add(left, Math.abs(comes - leaves) / (came - left));
	}

	private sideOf(value: number): number {
		return value >= this.high ? 1 : value <= this.low ? -1 : 0;
	}
}

function crossing(a: { time: number; value: number }, b: { time: number; value: number }, value: number): number {
	return b.value === a.value ? b.time : a.time + ((value - a.value) / (b.value - a.value)) * (b.time - a.time);
}
