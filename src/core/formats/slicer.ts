import { TraceBuilder, type EdgeChunk, type Level, type Trace } from '../trace/index.js';
import type { ParsedLine, Slicing } from './recording.js';

/** Changes of value that are kept before the threshold is set; later ones pass through. */
const LEARNING = 262_144;
/** Hysteresis as a share of the span between the lowest and the highest sample. */
const HYSTERESIS = 0.1;
/** Later samples this far outside the learnt span are worth a note. */
const BEYOND = 0.5;

/**
 * Makes a two-level line of samples. A column of nothing but 0 and 1 is taken as it is; any other is cut half-way between
 * its lowest and highest sample of the first 262,144 changes, with a hysteresis of a tenth of the span to either side. An edge
 * lies at the first sample beyond.
 */
export class Slicer {
	private times = new Float64Array(1024);
	private values = new Float32Array(1024);
	private kept = 0;
	private low = Infinity;
	private high = -Infinity;
	/** Nothing but 0, 1 and unknown levels came so far. */
	binary = true;
	private slicing: Slicing | undefined;
	private rise = 0;
	private fall = 0;
	private builder: TraceBuilder | undefined;
	/** True when later samples went far beyond the learnt span. */
	beyond = false;

	constructor(private readonly onChunk?: (chunk: EdgeChunk) => void) {}

	/** True for a line that never moved and is neither 0 nor 1: its level is unknown. */
	get flat(): boolean {
		return !this.binary && this.low === this.high;
	}

	/** A sample; NaN stands for one whose level is unknown. Times ascend. */
	add(time: number, value: number): void {
		if (this.builder) {
			this.pass(time, value);
			return;
		}
		if (this.kept === this.times.length) this.grow();
		this.times[this.kept] = time;
		this.values[this.kept++] = value;
		if (value < this.low) this.low = value;
		if (value > this.high) this.high = value;
		if (value !== 0 && value !== 1 && value === value) this.binary = false;
		if (this.kept === LEARNING) this.learn();
	}

	finish(name: string, meta: { unit: Trace['unit']; start: number; end: number }): ParsedLine {
		if (!this.builder) this.learn();
		const { edges, shortest, trace } = finishLine(this.builder!, meta);
		const line: ParsedLine = { name, trace, edges, shortest };
		if (this.slicing) line.slicing = this.slicing;
		return line;
	}

	private learn(): void {
		const span = this.high - this.low;
		if (!this.binary && span > 0) {
			const threshold = (this.low + this.high) / 2;
			this.slicing = { low: this.low, high: this.high, threshold, hysteresis: HYSTERESIS * span };
			this.rise = threshold + HYSTERESIS * span;
			this.fall = threshold - HYSTERESIS * span;
		} else {
			this.rise = this.binary ? 0.5 : Infinity;
			this.fall = this.binary ? 0.5 : -Infinity;
		}
		const { times, values, kept } = this;
		const first = kept > 0 ? this.levelOf(values[0], 2) : 2;
		// A first sample inside the hysteresis takes the side of the threshold that it lies on.
		const settled = first === 2 && kept > 0 && span > 0 ? (values[0] > (this.low + this.high) / 2 ? 1 : 0) : first;
		this.builder = new TraceBuilder(values[0] === values[0] ? settled : 2, this.onChunk);
		for (let i = 1; i < kept; i++) this.pass(times[i], values[i]);
		this.times = new Float64Array(0);
		this.values = new Float32Array(0);
	}

	private pass(time: number, value: number): void {
		const { low, high } = this;
		const builder = this.builder!;
		builder.add(time, this.levelOf(value, builder.current));
		if (this.slicing && (value > high + BEYOND * (high - low) || value < low - BEYOND * (high - low))) this.beyond = true;
	}

	private levelOf(value: number, before: Level): Level {
		if (value > this.rise) return 1;
		if (value < this.fall) return 0;
		return value === value ? before : 2;
	}

	private grow(): void {
		const times = new Float64Array(this.times.length * 2);
		const values = new Float32Array(this.values.length * 2);
		times.set(this.times);
		values.set(this.values);
		this.times = times;
		this.values = values;
	}
}

/** Finishes a builder whose chunks may have gone to a sink, and says what it made. */
export function finishLine(
	builder: TraceBuilder,
	meta: { unit: Trace['unit']; start: number; end: number }
): { trace: Trace; edges: number; shortest: number } {
	const edges = builder.count;
	const trace = builder.finish(meta);
	return { trace, edges, shortest: builder.shortestPulse };
}
