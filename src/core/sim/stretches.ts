import type { Seconds } from '../exact/index.js';
import { StretchedTrace, type Repeat } from '../trace/index.js';
import type { SimSink } from './recorder.js';
import type { SimLevel } from './system.js';

/** Times that grow, with stretches that repeat. */
class Column {
	private times = new Float64Array(64);
	length = 0;
	readonly repeats: Repeat[] = [];

	push(time: number): void {
		if (this.length === this.times.length) {
			const wider = new Float64Array(this.length * 2);
			wider.set(this.times);
			this.times = wider;
		}
		this.times[this.length++] = time;
	}

	get last(): number {
		return this.length === 0 ? -Infinity : this.times[this.length - 1];
	}

	pop(): void {
		this.length--;
	}

	/** What was pushed after `from`, up to and with `to`, comes again so many times. */
	repeat(from: number, to: number, times: number): void {
		let first = this.length;
		while (first > 0 && this.times[first - 1] > from) first--;
		const [period, count] = [to - from, this.length - first];
		this.repeats.push({ first, count, period, times, from: to + 1 });
	}

	trace(unit: Seconds, initial: SimLevel): StretchedTrace {
		return new StretchedTrace(unit, initial, this.times.slice(0, this.length), this.repeats);
	}
}

/** Keeps what a simulation tells as stretched traces: outputs as levels, updates as edges of a line that turns at each. */
export class StretchRecorder implements SimSink {
	private readonly outputs: Column[] = [];
	private readonly levels: SimLevel[] = [];
	private readonly initial: SimLevel[] = [];
	private readonly updates: Column[] = [];
	private readonly captures: [number, number][][] = [];

	output(index: number, time: number, level: SimLevel): void {
		if (this.levels[index] === level) return;
		this.levels[index] = level;
		const column = (this.outputs[index] ??= new Column());
		if (time <= 0) this.initial[index] = level;
		// A level that comes back at the very time of its change was no change.
		else if (column.last === time) column.pop();
		else column.push(time);
	}

	update(timer: number, time: number): void {
		(this.updates[timer] ??= new Column()).push(time);
	}

	capture(timer: number, time: number, value: number): void {
		(this.captures[timer] ??= []).push([time, value]);
	}

	/** All of some outputs and timers repeats what came after `from`, up to and with `to`. */
	repeat(outputs: readonly number[], timers: readonly number[], from: number, to: number, times: number): void {
		for (const index of outputs) this.outputs[index]?.repeat(from, to, times);
		for (const timer of timers) this.updates[timer]?.repeat(from, to, times);
	}

	trace(output: number, unit: Seconds): StretchedTrace {
		return (this.outputs[output] ?? new Column()).trace(unit, this.initial[output] ?? 0);
	}

	updatesOf(timer: number, unit: Seconds): StretchedTrace {
		return (this.updates[timer] ?? new Column()).trace(unit, 0);
	}

	/** Captures as pairs of time and value; those of repeated stretches are not here. */
	capturesOf(timer: number): readonly [number, number][] {
		return this.captures[timer] ?? [];
	}
}
