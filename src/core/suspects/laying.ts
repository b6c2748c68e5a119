import { align, type Aligned, type PlannedRow, type RecordedRow } from '../align/index.js';
import { edgeAt, type Course } from './course.js';
import type { GroupLine, Scene } from './scene.js';
import type { Weighed } from './weigh.js';

/** How one recording lies on the plan; times in seconds. */
export interface Laid {
	recording: string;
	found: Aligned;
	/** Numbers of the lines that were laid, in the order of what was found of them. */
	lines: number[];
	/** How far an edge may lie from its place. */
	budget: number;
}

/** Edges that a recording is laid by: of each line, and of all its lines together. */
const [MOST, MOST_OF_ALL] = [2000, 6000];

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
	const most = Math.min(MOST, Math.ceil(MOST_OF_ALL / shown.length));
	const turns = new Set(shown.map(({ course }) => course.turn?.period));
	const ratios = shown.map(({ line }) => range(line.number));
	const step = Math.max(...shown.map(({ line }) => line.seen.step + 2 * line.seen.noise));
	const rows = shown.map(({ line, course }) => ({
		plan: plannedRow(course, line.seen.to - line.seen.from, turns.size === 1),
		recorded: recordedRow(line, most)
	}));
	// Where the plan has far more edges in that time than could be recorded, it lies nowhere.
	const planned = shown.reduce((sum, { line, course }) => sum + edgesWithin(course, lengthOf(recordedRow(line, most))), 0);
	const lines = shown.map(({ line }) => line.number);
	if (planned > MOST_PLANNED) return { recording, lines, budget: step, found: { fits: false, laying: { offset: 0, ratio: 1 } } };
	const ratio = [Math.min(...ratios.map(([low]) => low)), Math.max(...ratios.map(([, high]) => high))] as const;
	return {
		recording,
		lines,
		budget: step,
		found: align(rows, { ratio, budget: step, glitch: 4 * step })
	};
}

/** Planned edges in the time of a recording beyond which it is not laid. */
const MOST_PLANNED = 60_000;

const lengthOf = ({ from, to }: RecordedRow) => to - from;

function edgesWithin({ turn, times }: Course, span: number): number {
	return turn ? (span / turn.period) * turn.count : times.length;
}

/** Lines that turn round together repeat for ever; others are told edge by edge. */
function plannedRow(course: Course, span: number, together: boolean): PlannedRow {
	const { turn, times, level } = course;
	if (turn && together) {
		const own = Array.from(times.subarray(turn.first, turn.first + turn.count));
		const offsets = own.map((time) => time - Math.floor(time / turn.period) * turn.period);
		const first = offsets.indexOf(Math.min(...offsets));
		const initial = (level + turn.first + first) % 2 === 0 ? 0 : 1;
		return { initial, times: Float64Array.from(offsets).sort(), period: turn.period };
	}
	const edges: number[] = [];
	for (let i = 0; i < MOST; i++) {
		const edge = edgeAt(course, i);
		if (!edge || edge.time > 2 * span) break;
		edges.push(edge.time);
	}
	return { initial: level, times: Float64Array.from(edges) };
}

function recordedRow({ seen }: GroupLine, most: number): RecordedRow {
	const count = Math.min(most, seen.edges.length);
	const to = count < seen.edges.length ? seen.edges[count - 1] : seen.to;
	const first = seen.up.at(0);
	const initial = seen.level !== 2 ? seen.level : first === undefined ? 2 : ((1 - first) as 0 | 1);
	return { initial, times: seen.edges.subarray(0, count), levels: seen.up.subarray(0, count), from: seen.from, to };
}
