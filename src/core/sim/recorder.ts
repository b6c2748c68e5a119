import type { SimLevel } from './system.js';

/** Where a simulation puts what it finds, in ascending time. Several levels of one output at one time: the last one counts. */
export interface SimSink {
	/** An output's level from `time` on; also called when it does not change. */
	output: (index: number, time: number, level: SimLevel) => void;
	update: (timer: number, time: number) => void;
	capture: (timer: number, time: number, value: number) => void;
	/** What only some sinks keep; as Host has it. */
	reference?: (timer: number, channel: number, time: number, level: SimLevel) => void;
	skipped?: (timer: number, time: number) => void;
	match?: (timer: number, channel: number, time: number) => void;
	ramp?: (timer: number, time: number, value: number, step: number, lead: number) => void;
	write?: (timer: number, time: number) => void;
	/** A register's value from `time` on; those at first come with time 0. `register` as host.ts numbers them. */
	register?: (timer: number, time: number, register: number, value: number) => void;
}

/** Edges of every output as growing lists of times, each turning the level; updates and captures beside them. */
export class EdgeRecorder implements SimSink {
	readonly edges: number[][] = [];
	/** Levels in cycle 0. */
	readonly initial: SimLevel[] = [];
	readonly updates: number[][] = [];
	readonly captures: [number, number][][] = [];
	private readonly levels: SimLevel[] = [];

	output(index: number, time: number, level: SimLevel): void {
		if (this.levels[index] === level) return;
		if (this.levels[index] === undefined) this.edges[index] = [];
		this.levels[index] = level;
		if (time <= 0) {
			this.initial[index] = level;
			return;
		}
		const edges = this.edges[index];
		// A level that comes back at the very time of its change was no change.
		if (edges.length > 0 && edges[edges.length - 1] === time) edges.pop();
		else edges.push(time);
	}

	update(timer: number, time: number): void {
		(this.updates[timer] ??= []).push(time);
	}

	capture(timer: number, time: number, value: number): void {
		(this.captures[timer] ??= []).push([time, value]);
	}
}
