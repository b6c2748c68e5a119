import type { Seconds } from '../exact/index.js';
import { StretchedTrace, type StretchedColumns } from './stretched.js';

/** How a value goes on from a point: `value` at the point, one more (or less) every |step| units, of which `lead` were over; step 0: it stands. */
export interface ValueKind {
	value: number;
	step: number;
	lead: number;
}

/** A trace of values as plain data: the points, and of each stored one which kind it is. */
export interface ValueColumns {
	points: StretchedColumns;
	kinds: ValueKind[];
	kindOf: Uint32Array;
}

/**
 * The whole-numbered value of something over time, a counter for instance, as points between which it goes straight.
 * Steady stretches of points are kept as their description.
 */
export class ValueTrace {
	readonly points: StretchedTrace;

	constructor(
		readonly unit: Seconds,
		readonly columns: ValueColumns
	) {
		const { initial, times, repeats } = columns.points;
		this.points = new StretchedTrace(unit, initial, times, repeats);
	}

	get count(): number {
		return this.points.count;
	}

	/** How it goes on from point `index`, and the time of that point. */
	point(index: number): ValueKind & { time: number } {
		const { stored } = this.points.storedAt(index);
		return { ...this.columns.kinds[this.columns.kindOf[stored]], time: this.points.edgeTime(index) };
	}

	/** Its value in the unit that begins at t; undefined before the first point. */
	at(t: number): number | undefined {
		const index = this.points.edgesBefore(t + 1) - 1;
		return index < 0 ? undefined : this.after(index, t);
	}

	/** Its value at t, which lies between point `index` and the next. */
	after(index: number, t: number): number {
		const { value, step, lead, time } = this.point(index);
		if (step === 0) return value;
		return value + Math.floor((t - time + lead) / Math.abs(step)) * Math.sign(step);
	}

	/** The greatest value of all points, those that go up to the next with it. */
	get top(): number {
		let top = 0;
		for (let i = 0; i < Math.min(this.count, this.columns.kindOf.length + 1); i++) {
			top = Math.max(top, this.point(i).value);
			if (i + 1 < this.count) top = Math.max(top, this.after(i, this.points.edgeTime(i + 1) - 1));
		}
		return top;
	}
}
