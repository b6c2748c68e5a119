import type { Seconds } from '../exact/index.js';
import { BLOCK_SAMPLES, Trace, TraceBuilder, type SampleBlock } from '../trace/index.js';
import { Cutter, foundSlicing } from './cutter.js';
import { HistogramBuilder } from './histogram.js';
import type { LineSink, ParsedLine, Slicing } from './recording.js';

/** Changes of value after which a line of nothing but 0 and 1 is taken for one of levels. */
const LEARNING = 262_144;

/** How a line's values are to be taken, where that was said. */
export interface SampledAs {
	as?: 'levels' | 'analogue';
	slicing?: Partial<Slicing>;
}

/**
 * A line of values as they come: levels, while there is nothing but 0, 1 and unknown; else samples, which are kept and cut to levels once all
 * are known. With a sink both leave as they fill, and whoever keeps the samples cuts them.
 */
export class SampledLine {
	private readonly waiting: [time: number, value: number, before: number][] = [];
	private builder: TraceBuilder | undefined;
	private samples: SampleWriter | undefined;
	/** Nothing but 0, 1 and unknown levels came so far. */
	binary = true;

	constructor(
		private readonly sink?: LineSink,
		private readonly told: SampledAs = {}
	) {
		if (told.as === 'levels') this.builder = new TraceBuilder(2, sink?.edges);
		else if (told.as === 'analogue') this.beginSamples();
	}

	/** True for a line that never moved and is neither 0 nor 1: its level is unknown. */
	get flat(): boolean {
		return this.samples !== undefined && this.samples.histogram.finish() === undefined;
	}

	/** A sample; NaN stands for one whose level is unknown. Times ascend; until `before` the value stood as it was. */
	add(time: number, given: number, before: number): void {
		const value = Number.isFinite(given) ? given : NaN;
		if (this.builder) {
			this.builder.add(time, value > 0.5 ? 1 : value === value ? 0 : 2);
			return;
		}
		if (this.samples) {
			this.samples.add(time, value, before);
			return;
		}
		this.waiting.push([time, value, before]);
		if (value !== 0 && value !== 1 && value === value) this.beginSamples();
		else if (this.waiting.length === LEARNING) this.beginLevels();
	}

	/** `count` samples in a row, `step` units apart, the first at `time`, of a line that is analogue whatever comes; `fill`: see there. */
	addRun(time: number, step: number, count: number, fill: FillSamples): void {
		this.samples!.addRun(time, step, count, fill);
	}

	/** `sample`: the seconds between two samples, of a line that is sampled. */
	finish(number: number, name: string, meta: { unit: Seconds; start: number; end: number }, sample?: Seconds): ParsedLine {
		if (!this.samples) {
			if (!this.builder) this.beginLevels();
			return { number, name, ...finishLine(this.builder!, meta) };
		}
		const { samples, told } = this;
		samples.flush();
		const histogram = samples.histogram.finish();
		const [least, most] = samples.histogram.bounds ?? [NaN, NaN];
		const analogue = {
			samples: samples.count,
			least,
			most,
			histogram: histogram ?? { from: least, to: least, counts: [], levels: [least, least] }
		};
		if (!histogram) return { number, name, ...finishLine(new TraceBuilder(2, this.sink?.edges), meta), analogue };
		const slicing = { ...foundSlicing(histogram), ...told.slicing };
		// Who took the samples cuts them.
		if (this.sink)
			return {
				number,
				name,
				trace: new Trace({ ...meta, initial: 2 }, []),
				edges: 0,
				shortest: Infinity,
				raster: 0,
				slicing,
				analogue,
				sample
			};
		const cutter = new Cutter(slicing, meta.unit);
		for (const block of samples.blocks) cutter.push(block);
		return { number, name, slicing, analogue, blocks: samples.blocks, ...cutter.finish(meta, sample) };
	}

	private beginLevels(): void {
		const [first] = this.waiting;
		const levelOf = (value: number) => (value > 0.5 ? 1 : value === value ? 0 : 2);
		const builder = new TraceBuilder(first ? levelOf(first[1]) : 2, this.sink?.edges);
		for (const [time, value] of this.waiting.slice(1)) builder.add(time, levelOf(value));
		this.waiting.length = 0;
		this.builder = builder;
	}

	private beginSamples(): void {
		this.binary = false;
		this.samples = new SampleWriter(this.sink?.samples);
		for (const [time, value, before] of this.waiting) this.samples.add(time, value, before);
		this.waiting.length = 0;
	}
}

/** Writes samples of a run into a column, from the run's sample of that number on; NaN for one that is unknown. */
export type FillSamples = (into: Float32Array, from: number) => void;

/** Gathers samples into blocks. */
class SampleWriter {
	readonly histogram = new HistogramBuilder();
	readonly blocks: SampleBlock[] = [];
	count = 0;
	private times = new Float64Array(BLOCK_SAMPLES);
	private values = new Float32Array(BLOCK_SAMPLES);
	private used = 0;
	private last = -Infinity;
	private lastValue = NaN;

	constructor(private readonly sink?: (block: SampleBlock) => void) {}

	add(time: number, value: number, before: number): void {
		if (this.count > 0 && before > this.last) this.put(before, this.lastValue);
		this.put(time, value);
	}

	addRun(time: number, step: number, count: number, fill: FillSamples): void {
		for (let done = 0; done < count;) {
			if (this.used === BLOCK_SAMPLES) this.flush();
			const here = Math.min(count - done, BLOCK_SAMPLES - this.used);
			const part = this.values.subarray(this.used, this.used + here);
			fill(part, done);
			const times = this.times.subarray(this.used, this.used + here);
			for (let i = 0; i < here; i++) times[i] = time + (done + i) * step;
			this.histogram.addAll(part);
			this.used += here;
			done += here;
		}
		this.count += count;
	}

	flush(): void {
		if (this.used === 0) return;
		const whole = this.used === BLOCK_SAMPLES;
		const block = whole
			? { times: this.times, values: this.values }
			: { times: this.times.slice(0, this.used), values: this.values.slice(0, this.used) };
		// A full block is given away as it is.
		if (whole) {
			this.times = new Float64Array(BLOCK_SAMPLES);
			this.values = new Float32Array(BLOCK_SAMPLES);
		}
		this.used = 0;
		if (this.sink) this.sink(block);
		else this.blocks.push(block);
	}

	private put(time: number, value: number): void {
		if (this.used === BLOCK_SAMPLES) this.flush();
		this.times[this.used] = time;
		this.values[this.used++] = value;
		this.count++;
		this.last = time;
		this.lastValue = value;
		if (value === value) this.histogram.add(value);
	}
}

/** Finishes a builder whose chunks may have gone to a sink, and says what it made. */
export function finishLine(
	builder: TraceBuilder,
	meta: { unit: Seconds; start: number; end: number }
): Pick<ParsedLine, 'trace' | 'edges' | 'shortest' | 'raster'> {
	const edges = builder.count;
	const trace = builder.finish(meta);
	return { trace, edges, shortest: builder.shortestPulse, raster: builder.raster };
}
