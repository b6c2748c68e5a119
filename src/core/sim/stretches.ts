import type { Seconds } from '../exact/index.js';
import { StretchedTrace, ValueTrace, type Repeat, type ValueKind } from '../trace/index.js';
import { COMPARE } from './host.js';
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

	trace(unit: Seconds, initial: SimLevel = 0): StretchedTrace {
		return new StretchedTrace(unit, initial, this.times.slice(0, this.length), this.repeats);
	}
}

/** A column of points each of which says how a value goes on; equal ways are kept once. */
class ValueColumn {
	readonly column = new Column();
	private kindOf = new Uint32Array(64);
	private readonly kinds: ValueKind[] = [];
	private readonly known = new Map<string, number>();

	push(time: number, kind: ValueKind): void {
		const { column } = this;
		const at = this.numberOf(kind);
		// A way that is changed at the very time it was told was none.
		if (column.last === time) column.pop();
		column.push(time);
		if (column.length > this.kindOf.length) {
			const wider = new Uint32Array(this.kindOf.length * 2);
			wider.set(this.kindOf);
			this.kindOf = wider;
		}
		this.kindOf[column.length - 1] = at;
	}

	private numberOf(kind: ValueKind): number {
		const last = this.column.length > 0 ? this.kindOf[this.column.length - 1] : -1;
		const same = last >= 0 ? this.kinds[last] : undefined;
		if (same && same.value === kind.value && same.step === kind.step && same.lead === kind.lead) return last;
		const key = `${kind.value} ${kind.step} ${kind.lead}`;
		const known = this.known.get(key);
		if (known !== undefined) return known;
		this.known.set(key, this.kinds.length);
		return this.kinds.push(kind) - 1;
	}

	trace(unit: Seconds): ValueTrace {
		const { length } = this.column;
		return new ValueTrace(unit, { points: this.column.trace(unit).columns, kinds: this.kinds, kindOf: this.kindOf.slice(0, length) });
	}
}

/** Registers that every timer has, in their order. */
const FRAME = ['reload', 'prescale', 'repeat'];

/** What is kept of one timer. */
class TimerColumns {
	readonly updates = new Column();
	readonly skipped = new Column();
	readonly ramp = new ValueColumn();
	readonly captures = new ValueColumn();
	readonly writes = new Column();
	readonly effects = new Column();
	readonly matches: Column[] = [];
	readonly registers: ValueColumn[] = [];
	readonly references: { column: Column; initial: SimLevel; level: SimLevel }[] = [];

	repeat(from: number, to: number, times: number): void {
		const { updates, skipped, ramp, captures, writes, effects, matches, references, registers } = this;
		const listed = [...matches.values(), ...references.values(), ...registers.values()].map((one) =>
			one && 'column' in one ? one.column : one
		);
		for (const column of [updates, skipped, ramp.column, captures.column, writes, effects, ...listed]) column?.repeat(from, to, times);
	}
}

/** What a timer did, ready to be looked at anywhere. Events are traces whose every edge is one. */
export interface TimerStory {
	updates: StretchedTrace;
	/** Ends of periods that a repeat count left out. */
	skipped: StretchedTrace;
	counter: ValueTrace;
	/** Values latched by its trigger. */
	captures: ValueTrace;
	/** When software writes its registers, and when written values act. */
	writes: StretchedTrace;
	effects: StretchedTrace;
	/** What acts in the registers: "reload", "prescale", "repeat", "compare:CH". */
	registers: Map<string, ValueTrace>;
	/** Matches by channel, of channels on which something hangs. */
	matches: Map<string, StretchedTrace>;
	/** References by channel: before dead time and polarity. */
	references: Map<string, StretchedTrace>;
}

/** Keeps what a simulation tells as stretched traces: outputs as levels, events as edges of a line that turns at each, counters as their ramps. */
export class StretchRecorder implements SimSink {
	private readonly outputs: Column[] = [];
	private readonly levels: SimLevel[] = [];
	private readonly initial: SimLevel[] = [];
	private readonly timers: TimerColumns[] = [];

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
		this.of(timer).updates.push(time);
	}

	skipped(timer: number, time: number): void {
		this.of(timer).skipped.push(time);
	}

	capture(timer: number, time: number, value: number): void {
		this.of(timer).captures.push(time, { value, step: 0, lead: 0 });
	}

	reference(timer: number, channel: number, time: number, level: SimLevel): void {
		const kept = (this.of(timer).references[channel] ??= { column: new Column(), initial: 0, level: 0 });
		if (time <= 0) kept.initial = level;
		else if (kept.level !== level) {
			if (kept.column.last === time) kept.column.pop();
			else kept.column.push(time);
		}
		kept.level = level;
	}

	match(timer: number, channel: number, time: number): void {
		pushOnce((this.of(timer).matches[channel] ??= new Column()), time);
	}

	ramp(timer: number, time: number, value: number, step: number, lead: number): void {
		this.of(timer).ramp.push(time, { value, step, lead });
	}

	write(timer: number, time: number): void {
		pushOnce(this.of(timer).writes, time);
	}

	register(timer: number, time: number, register: number, value: number): void {
		const { effects, registers } = this.of(timer);
		(registers[register] ??= new ValueColumn()).push(time, { value, step: 0, lead: 0 });
		if (time > 0) pushOnce(effects, time);
	}

	/** Everything repeats what came after `from`, up to and with `to`. */
	repeat(from: number, to: number, times: number): void {
		for (const output of this.outputs) output?.repeat(from, to, times);
		for (const timer of this.timers) timer?.repeat(from, to, times);
	}

	trace(output: number, unit: Seconds): StretchedTrace {
		return (this.outputs[output] ?? new Column()).trace(unit, this.initial[output] ?? 0);
	}

	/** What was kept of a timer, whose channels have these names. */
	story(timer: number, channels: readonly string[], unit: Seconds): TimerStory {
		const { updates, skipped, ramp, captures, writes, effects, matches, references, registers } = this.of(timer);
		const named = <T>(trace: (channel: number) => T | undefined): Map<string, T> =>
			new Map(
				channels.flatMap((id, i): [string, T][] => {
					const found = trace(i);
					return found === undefined ? [] : [[id, found]];
				})
			);
		return {
			updates: updates.trace(unit),
			skipped: skipped.trace(unit),
			counter: ramp.trace(unit),
			captures: captures.trace(unit),
			writes: writes.trace(unit),
			effects: effects.trace(unit),
			registers: new Map(registers.map((one, i) => [i < COMPARE ? FRAME[i] : `compare:${channels[i - COMPARE]}`, one.trace(unit)])),
			matches: named((i) => matches[i]?.trace(unit)),
			references: named((i) => references[i]?.column.trace(unit, references[i].initial))
		};
	}

	private of(timer: number): TimerColumns {
		return (this.timers[timer] ??= new TimerColumns());
	}
}

function pushOnce(column: Column, time: number): void {
	if (column.last !== time) column.push(time);
}
