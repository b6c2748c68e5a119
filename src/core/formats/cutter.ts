import { Rational, type Seconds } from '../exact/index.js';
import { TraceBuilder, type EdgeChunk, type Level, type SampleBlock } from '../trace/index.js';
import type { Histogram } from './histogram.js';
import type { ParsedLine, Slicing } from './recording.js';
import { interpolatedStep } from './step.js';

/** Hysteresis as a share of the span between the two levels. */
const HYSTERESIS = 0.1;
/** Samples at one level that noise is read off, at the least (timers.md 11). */
const STEADY = 20;
/** A sample nearer to the threshold than this share of the span is on its way from one level to the other. */
const ON_THE_WAY = 0.25;

/** Where levels are parted when nothing is said: half-way between the two, with a tenth of the span to either side. */
export function foundSlicing({ levels: [low, high] }: Histogram): Slicing {
	return { low, high, threshold: (low + high) / 2, hysteresis: HYSTERESIS * (high - low) };
}

/**
 * Makes levels of samples: a level changes once a sample lies beyond the threshold by more than the hysteresis, and its edge lies where the
 * straight line between two samples crossed the threshold last before that (timers.md 11). The threshold may follow the wave: half-way
 * between the least and the greatest sample of a stretch of time up to each.
 */
export class Cutter {
	private builder: TraceBuilder | undefined;
	private lastTime = 0;
	private lastValue = NaN;
	/** Where the threshold was crossed last, and how steeply, since the level last changed. */
	private crossed: number | undefined;
	private steepness = 0;
	private betweenLevels = false;
	private slowest = Infinity;
	/** A crossing between two samples that are both at a level: where it lies between them no one can tell. */
	private sharp = false;
	private readonly run = { samples: 0, least: Infinity, most: -Infinity };
	private steady = { samples: STEADY - 1, noise: 0 };
	private readonly follow: Follower | undefined;

	constructor(
		private readonly slicing: Slicing,
		unit: Seconds,
		private readonly onChunk?: (chunk: EdgeChunk) => void
	) {
		const stretch = slicing.follow === undefined ? undefined : Math.max(1, slicing.follow / unit.toNumber());
		this.follow = stretch === undefined ? undefined : new Follower(stretch);
	}

	push({ times, values }: SampleBlock): void {
		for (let i = 0; i < times.length; i++) this.sample(times[i], values[i]);
	}

	/** The edges, and their step where samples come `sample` seconds apart. */
	finish(
		meta: { unit: Seconds; start: number; end: number },
		sample: Seconds | undefined
	): Pick<ParsedLine, 'trace' | 'edges' | 'shortest' | 'raster' | 'step'> {
		const builder = (this.builder ??= new TraceBuilder(2, this.onChunk));
		this.endRun();
		const edges = builder.count;
		const trace = builder.finish(meta);
		const line = { trace, edges, shortest: builder.shortestPulse, raster: 0 };
		if (!sample || this.slowest === Infinity) return line;
		const slope = exact(this.slowest).div(meta.unit);
		const step = this.sharp ? sample : interpolatedStep(sample, exact(this.steady.noise), slope);
		return { ...line, step: { step, raster: sample } };
	}

	private sample(time: number, value: number): void {
		const threshold = this.follow ? this.follow.middle(time, value) : this.slicing.threshold;
		if (!this.builder) {
			// A first sample inside the hysteresis takes the side of the threshold that it lies on.
			const first = value === value ? (value > threshold ? 1 : 0) : 2;
			this.builder = new TraceBuilder(first, this.onChunk);
		} else this.change(this.builder, time, value, threshold);
		this.keep(value, threshold);
		this.lastTime = time;
		this.lastValue = value;
	}

	private change(builder: TraceBuilder, time: number, value: number, threshold: number): void {
		const before = builder.current;
		const { lastTime, lastValue } = this;
		if (lastValue !== lastValue || value !== value) {
			this.crossed = undefined;
			const after = value === value ? (value > threshold ? 1 : 0) : 2;
			if (after !== before) this.turn(builder, time, after);
			return;
		}
		if (before === 1 ? lastValue >= threshold && value < threshold : lastValue <= threshold && value > threshold) {
			const share = (threshold - lastValue) / (value - lastValue);
			this.crossed = Math.round(lastTime + share * (time - lastTime));
			this.steepness = time > lastTime ? Math.abs(value - lastValue) / (time - lastTime) : Infinity;
			this.betweenLevels = time > lastTime && this.atLevel(lastValue, threshold) && this.atLevel(value, threshold);
		}
		const beyond = before === 1 ? value < threshold - this.slicing.hysteresis : value > threshold + this.slicing.hysteresis;
		if (!beyond) return;
		if (this.crossed !== undefined) {
			if (this.steepness < this.slowest) this.slowest = this.steepness;
			this.sharp ||= this.betweenLevels;
		}
		this.turn(builder, this.crossed ?? time, before === 1 ? 0 : 1);
		this.crossed = undefined;
	}

	private turn(builder: TraceBuilder, time: number, level: Level): void {
		builder.add(time, level);
		this.endRun();
	}

	/** Watches how far the samples at one level lie apart. */
	private keep(value: number, threshold: number): void {
		const { run } = this;
		if (!this.atLevel(value, threshold)) return;
		run.samples++;
		if (value < run.least) run.least = value;
		if (value > run.most) run.most = value;
	}

	private atLevel(value: number, threshold: number): boolean {
		return Math.abs(value - threshold) > ON_THE_WAY * (this.slicing.high - this.slicing.low);
	}

	private endRun(): void {
		const { run } = this;
		if (run.samples > this.steady.samples) this.steady = { samples: run.samples, noise: run.most - run.least };
		run.samples = 0;
		run.least = Infinity;
		run.most = -Infinity;
	}
}

/** Half-way between the least and the greatest value of a stretch of time: both as queues from which the outdone are dropped. */
class Follower {
	private readonly low: [number, number][] = [];
	private readonly high: [number, number][] = [];
	private lowFrom = 0;
	private highFrom = 0;

	constructor(private readonly stretch: number) {}

	middle(time: number, value: number): number {
		if (value === value) {
			while (this.low.length > this.lowFrom && this.low[this.low.length - 1][1] >= value) this.low.pop();
			while (this.high.length > this.highFrom && this.high[this.high.length - 1][1] <= value) this.high.pop();
			this.low.push([time, value]);
			this.high.push([time, value]);
		}
		while (this.lowFrom < this.low.length - 1 && this.low[this.lowFrom][0] < time - this.stretch) this.lowFrom++;
		while (this.highFrom < this.high.length - 1 && this.high[this.highFrom][0] < time - this.stretch) this.highFrom++;
		if (this.lowFrom > 4096) this.lowFrom -= this.low.splice(0, this.lowFrom).length;
		if (this.highFrom > 4096) this.highFrom -= this.high.splice(0, this.highFrom).length;
		return this.low.length === 0 ? NaN : (this.low[this.lowFrom][1] + this.high[this.highFrom][1]) / 2;
	}
}

/** A measured double as the decimal of nine digits nearest to it. */
function exact(value: number): Rational {
	return Rational.parse(value.toPrecision(9));
}
