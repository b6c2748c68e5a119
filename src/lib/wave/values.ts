import type { ValueTrace } from '../../core/trace/index.js';
import type { Viewport } from './scene.js';

/** What a value's lane shows: a line where its points can be told apart, else the span of each column. */
export type ValueScene =
	/** Corners of the line: x in columns, and the value there. */
	| { kind: 'line'; corners: { x: number; value: number }[] }
	/** Least and greatest value of each column; NaN where there is none yet. */
	| { kind: 'spans'; least: Float64Array; most: Float64Array };

/** Points a column of which each is looked at; more are sampled. */
const SAMPLES = 4;
/** Columns of a count from which on its single steps are drawn. */
const STAIRS = 4;

/** `unitPs`: picoseconds of the trace's unit; its time 0 is that of the viewport. */
export function valueScene(trace: ValueTrace, unitPs: number, viewport: Viewport): ValueScene {
	const { start, perColumn, columns } = viewport;
	const toColumn = (t: number) => (t * unitPs - start) / perColumn;
	const toUnits = (column: number) => (start + column * perColumn) / unitPs;
	const first = Math.max(0, trace.points.edgesBefore(toUnits(0) + 1) - 1);
	const last = trace.points.edgesBefore(toUnits(columns));
	if (last - first > columns / 3) return spans(trace, toUnits, columns);
	const corners: { x: number; value: number }[] = [];
	for (let i = first; i < last; i++) {
		const { time, value, step, lead } = trace.point(i);
		const end = Math.min(i + 1 < trace.count ? trace.points.edgeTime(i + 1) : Infinity, toUnits(columns) + Math.abs(step));
		corners.push({ x: toColumn(time), value });
		const width = Math.abs(step);
		const sign = Math.sign(step);
		if (step !== 0 && (width * unitPs) / perColumn >= STAIRS) {
			// Only the counts in sight, of which there are a few hundred at the most.
			const from = Math.max(1, Math.floor((toUnits(0) - time + lead) / width));
			for (let k = from; time - lead + k * width < end; k++) {
				const x = toColumn(time - lead + k * width);
				corners.push({ x, value: value + (k - 1) * sign }, { x, value: value + k * sign });
			}
			corners.push({ x: toColumn(end), value: trace.after(i, Math.ceil(end) - 1) });
		} else if (step !== 0) corners.push({ x: toColumn(end), value: value + ((end - time + lead) / width) * sign });
		else corners.push({ x: toColumn(end), value });
	}
	return { kind: 'line', corners };
}

function spans(trace: ValueTrace, toUnits: (column: number) => number, columns: number): ValueScene {
	const least = new Float64Array(columns).fill(NaN);
	const most = new Float64Array(columns).fill(NaN);
	const take = (column: number, value: number | undefined) => {
		if (value === undefined) return;
		if (!(value >= least[column])) least[column] = value;
		if (!(value <= most[column])) most[column] = value;
	};
	for (let column = 0; column < columns; column++) {
		const [from, to] = [toUnits(column), toUnits(column + 1)];
		const [i, j] = [trace.points.edgesBefore(from), trace.points.edgesBefore(to)];
		take(column, trace.at(Math.floor(from)));
		const each = j - i <= SAMPLES ? 1 : (j - i) / SAMPLES;
		for (let k = 0; i + k < j; k += each) {
			const at = Math.floor(i + k);
			const time = trace.points.edgeTime(at);
			if (at > 0) take(column, trace.after(at - 1, time - 1));
			take(column, trace.after(at, time));
		}
	}
	return { kind: 'spans', least, most };
}
