import type { Seconds } from '../exact/index.js';
import { BLOCK_SAMPLES, EvenBlock, Trace, TraceBuilder, type Level, type SampleBlock } from '../trace/index.js';
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
	private readonly waiting = new Waiting();
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
		this.waiting.add(time, value, before);
		if (value !== 0 && value !== 1 && value === value) this.beginSamples();
		else if (this.waiting.count === LEARNING) this.beginLevels();
	}

	/** Edges that take turns between 0 and 1, the first to `first`, of a line that is binary so far; `befores`: see add. */
	addLevels(times: Float64Array, befores: Float64Array, first: Level): void {
		let from = 0;
		for (; from < times.length && !this.builder; from++) this.add(times[from], (first + from) % 2, befores[from]);
		this.builder?.addRun(times.subarray(from), ((first + from) % 2) as Level);
	}

	/** Samples in a row of a line that is analogue whatever comes. */
	addRun(run: SampleRun): void {
		this.samples!.addRun(run);
	}

	/** How often a value came among the samples of runs that are not counted as they come. */
	addCounted(value: number, times: number): void {
		this.samples!.histogram.add(value, times);
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
		const { count, times, values } = this.waiting;
		const levelOf = (value: number) => (value > 0.5 ? 1 : value === value ? 0 : 2);
		const builder = new TraceBuilder(count > 0 ? levelOf(values[0]) : 2, this.sink?.edges);
		for (let i = 1; i < count; i++) builder.add(times[i], levelOf(values[i]));
		this.waiting.clear();
		this.builder = builder;
	}

	private beginSamples(): void {
		this.binary = false;
		this.samples = new SampleWriter(this.sink?.samples);
		const { count, times, values, befores } = this.waiting;
		for (let i = 0; i < count; i++) this.samples.add(times[i], values[i], befores[i]);
		this.waiting.clear();
	}
}

/** Values of which it is not known yet what they are. */
class Waiting {
	count = 0;
	times = new Float64Array(64);
	values = new Float64Array(64);
	befores = new Float64Array(64);

	add(time: number, value: number, before: number): void {
		if (this.count === this.times.length) this.grow();
		this.times[this.count] = time;
		this.values[this.count] = value;
		this.befores[this.count++] = before;
	}

	clear(): void {
		this.count = 0;
		this.times = this.values = this.befores = new Float64Array(0);
	}

	private grow(): void {
		const wider = (column: Float64Array) => {
			const wide = new Float64Array(2 * column.length);
			wide.set(column);
			return wide;
		};
		[this.times, this.values, this.befores] = [wider(this.times), wider(this.values), wider(this.befores)];
	}
}

/** Samples in a row. */
export interface SampleRun {
	/** When the first is, and units from one to the next. */
	first: number;
	step: number;
	count: number;
	/** Writes samples into a column, from the run's sample of that number on; NaN for one that is unknown. */
	fill: (into: Float32Array, from: number) => void;
	/** Their values are counted elsewhere. */
	counted: boolean;
}

/** Of a block that has none yet. */
const NO_TIMES = new Float64Array(0);

/** Gathers samples into blocks. */
class SampleWriter {
	readonly histogram = new HistogramBuilder();
	readonly blocks: SampleBlock[] = [];
	count = 0;
	private times: Float64Array = NO_TIMES;
	private values = new Float32Array(BLOCK_SAMPLES);
	private used = 0;
	private last = -Infinity;
	private lastValue = NaN;

	constructor(private readonly sink?: (block: SampleBlock) => void) {}

	add(time: number, value: number, before: number): void {
		if (this.count > 0 && before > this.last) this.put(before, this.lastValue);
		this.put(time, value);
	}

	addRun(run: SampleRun): void {
		for (let done = 0; done < run.count;) {
			if (this.used === BLOCK_SAMPLES) this.flush();
			const here = Math.min(run.count - done, BLOCK_SAMPLES - this.used);
			const first = run.first + done * run.step;
			const part = this.values.subarray(this.used, this.used + here);
			run.fill(part, done);
			if (!run.counted) this.histogram.addAll(part);
			if (here === BLOCK_SAMPLES) this.give(new EvenBlock(first, run.step, this.takeValues()));
			else {
				const times = this.ownTimes();
				for (let i = 0; i < here; i++) times[this.used + i] = first + i * run.step;
				this.used += here;
			}
			done += here;
		}
		this.count += run.count;
	}

	private ownTimes(): Float64Array {
		return this.times.length === 0 ? (this.times = new Float64Array(BLOCK_SAMPLES)) : this.times;
	}

	flush(): void {
		if (this.used === 0) return;
		const whole = this.used === BLOCK_SAMPLES;
		const times = whole ? this.times : this.times.slice(0, this.used);
		const values = whole ? this.takeValues() : this.values.slice(0, this.used);
		// A full block is given away as it is.
		if (whole) this.times = NO_TIMES;
		this.used = 0;
		this.give({ times, values });
	}

	private takeValues(): Float32Array {
		const { values } = this;
		this.values = new Float32Array(BLOCK_SAMPLES);
		return values;
	}

	private give(block: SampleBlock): void {
		if (this.sink) this.sink(block);
		else this.blocks.push(block);
	}

	private put(time: number, value: number): void {
		if (this.used === BLOCK_SAMPLES) this.flush();
		this.ownTimes()[this.used] = time;
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
