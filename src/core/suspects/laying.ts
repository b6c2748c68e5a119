import { align, recordedRow, type Aligned, type PlannedRow } from '../align/index.js';
import { edgeAt, type Course } from './course.js';
import type { GroupLine, Scene } from './scene.js';
import type { Weighed } from './weigh.js';

/** How one recording lies on the plan; times in seconds. */
export interface Laid {
	recording: string;
	found: Aligned;
	/** Numbers of the lines that were laid, in the order of what was found of them. */
	lines: number[];
	/** Ratios of the clocks that source and instrument allow. */
	ratio: readonly [number, number];
	/** How far an edge may lie from its place. */
	budget: number;
}

/** Edges that a recording is laid by, of all its lines together; and of each where the plan could not be followed to the end. */
const [MOST, MOST_FOLLOWED] = [5_000_000, 2000];

/** Lays each recording on the plan as it stands (timers.md 14): one offset and ratio for all of its lines. */
export function layAll(scene: Scene, base: readonly Weighed[], range: (line: number) => readonly [number, number]): Laid[] {
	const shown = scene.groups.flatMap((group) =>
		group.lines.flatMap((line, i) => {
			const course = base[group.number].courses[i];
			const seen = !line.seen.reading && line.lane.shows.kind === 'pin' && course && course.times.length > 0;
			return seen ? [{ line, course }] : [];
		})
	);
	const names = new Set(shown.map(({ line }) => line.seen.witness.recording));
	return [...names].map((recording) =>
		layOne(
			recording,
			shown.filter(({ line }) => line.seen.witness.recording === recording),
			range
		)
	);
}

function layOne(
	recording: string,
	shown: readonly { line: GroupLine; course: Course }[],
	range: (line: number) => readonly [number, number]
): Laid {
	const most = shown.some(({ course }) => course.cut) ? MOST_FOLLOWED : Math.ceil(MOST / shown.length);
	const turns = new Set(shown.map(({ course }) => course.turn?.period));
	const ratios = shown.map(({ line }) => range(line.number));
	const step = Math.max(...shown.map(({ line }) => line.seen.step + 2 * line.seen.noise));
	const lines = shown.map(({ line }) => line.number);
	const rows = shown.map(({ line: { seen }, course }) => {
		const { trace } = seen.witness;
		const recorded = recordedRow(trace, trace.meta.unit.toNumber(), most);
		return { plan: plannedRow(course, recorded.to - recorded.from, turns.size === 1, most), recorded };
	});
	const at = shown[0].line.seen.witness.laying;
	const ratio = [Math.min(...ratios.map(([low]) => low)), Math.max(...ratios.map(([, high]) => high))] as const;
	return {
		recording,
		lines,
		budget: step,
		ratio,
		found: align(rows, { ratio, budget: step, glitch: 4 * step, ...(at && { at }) })
	};
}

/** Lines that turn round together repeat for ever; others are told edge by edge. */
function plannedRow(course: Course, span: number, together: boolean, most: number): PlannedRow {
	const { turn, times, level } = course;
	if (turn && together) {
		const own = Array.from(times.subarray(turn.first, turn.first + turn.count));
		const offsets = own.map((time) => time - Math.floor(time / turn.period) * turn.period);
		const first = offsets.indexOf(Math.min(...offsets));
		const initial = (level + turn.first + first) % 2 === 0 ? 0 : 1;
		return { initial, times: Float64Array.from(offsets).sort(), period: turn.period };
	}
	// A recording may begin before the plan does; twice its length is enough to know the place of a plan that goes on alike.
	const edges: number[] = [];
	for (let i = 0; i < 2 * most; i++) {
		const edge = edgeAt(course, i);
		if (!edge || edge.time > 2 * span) break;
		edges.push(edge.time);
	}
	return { initial: level, times: Float64Array.from(edges) };
}
