import { lowerBound, type Level, type LevelSource, type Trace } from './trace.js';

export interface DisagreementColumns {
	starts: Float64Array;
	ends: Float64Array;
	/** Differing time before each span. */
	summed: Float64Array;
}

/**
 * Where a recording and a planned wave differ, as spans in the recording's units, with the differing time summed so
 * that any column of a view knows its share in two searches. Times are rounded to a double: for drawing and a share.
 */
export class Disagreement {
	/** Takes columns as `between` made them, for instance in a worker. */
	constructor(readonly columns: DisagreementColumns) {}

	/**
	 * Compares over the whole recording, or until a time of it. `shift`: the recording's time, in its units, at which the
	 * plan's time is 0.
	 */
	static between(recorded: Trace, planned: LevelSource, shift: number, until = Infinity): Disagreement {
		const scale = planned.unit.div(recorded.unit).toNumber();
		const spans = new SpanList();
		const { start } = recorded.meta;
		const end = Math.max(start, Math.min(recorded.meta.end, until));
		let edge = planned.edgesBefore((start - shift) / scale + 1e-9);
		let plan = planned.levelAfter(edge);
		const count = planned.count ?? (planned.levelAfter(edge) === planned.levelAfter(edge + 1) ? -Infinity : Infinity);
		const timeOf = (e: number) => (e < count ? shift + planned.edgeTime(e) * scale : Infinity);
		let planAt = timeOf(edge);
		let level: Level = recorded.meta.initial;
		spans.set(start, differ(plan, level));
		const catchUp = (until: number): void => {
			while (planAt < until) {
				plan = planned.levelAfter(++edge);
				spans.set(planAt, differ(plan, level));
				planAt = timeOf(edge);
			}
		};
		recorded.forEdges(0, end === recorded.meta.end ? recorded.count : recorded.edgesBefore(end), (time, to) => {
			catchUp(time);
			level = to;
			spans.set(time, differ(plan, level));
		});
		catchUp(end);
		spans.set(end, false);
		return new Disagreement(spans.columns());
	}

	get count(): number {
		return this.columns.starts.length;
	}

	/** Differing time before t, in units. */
	before(t: number): number {
		const { starts, ends, summed } = this.columns;
		const at = lowerBound(starts, starts.length, t) - 1;
		if (at < 0) return 0;
		return summed[at] + Math.min(t, ends[at]) - starts[at];
	}

	/** Share of t0..t1 in which the two differ, 0..1. */
	share(t0: number, t1: number): number {
		return t1 > t0 ? (this.before(t1) - this.before(t0)) / (t1 - t0) : 0;
	}
}

/** An unknown level disagrees with nothing: there is nothing to hold against the plan. */
function differ(a: Level, b: Level): boolean {
	return a !== b && a !== 2 && b !== 2;
}

class SpanList {
	private readonly starts: number[] = [];
	private readonly ends: number[] = [];
	private open = false;

	set(time: number, differing: boolean): void {
		if (differing === this.open) return;
		this.open = differing;
		if (differing) this.starts.push(time);
		else if (time > this.starts[this.starts.length - 1]) this.ends.push(time);
		else this.starts.pop();
	}

	columns(): DisagreementColumns {
		const summed = new Float64Array(this.starts.length);
		for (let i = 1; i < summed.length; i++) summed[i] = summed[i - 1] + this.ends[i - 1] - this.starts[i - 1];
		return { starts: Float64Array.from(this.starts), ends: Float64Array.from(this.ends), summed };
	}
}
