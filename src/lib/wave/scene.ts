import type { Seconds } from '../../core/exact/index.js';
import type { Level, LevelSource } from '../../core/trace/index.js';

/**
 * What a lane shows: pure, from a level source and a viewport to a draw list. Each pixel column knows the level it is
 * entered with, the level it is left with, and how often the line changed in between, so that no edge is ever lost between
 * columns and no column costs more than a search.
 */
export interface Viewport {
	/** Time at the left edge of column 0, in picoseconds. */
	start: number;
	/** Picoseconds a column. */
	perColumn: number;
	columns: number;
}

/** Where a source's time 0 lies in the viewport's time, and how long its unit is. */
export interface Placement {
	offsetPs: number;
	unitPs: number;
}

/** Columns of a workspace are reused from frame to frame: take a draw list from them before the next. */
export interface Columns {
	entry: Uint8Array;
	exit: Uint8Array;
	/** Edges in the column: 0, 1, 2 for two and more, or ABSENT. */
	toggled: Uint8Array;
}

export type DrawItem =
	/** Columns from..to-1 at one level. */
	| { kind: 'flat'; from: number; to: number; level: Level }
	/** A single edge in column `at`. */
	| { kind: 'edge'; at: number; before: Level; after: Level }
	/** Columns from..to-1 with two or more edges each. */
	| { kind: 'busy'; from: number; to: number };

export function columnWorkspace(columns: number): Columns {
	return { entry: new Uint8Array(columns), exit: new Uint8Array(columns), toggled: new Uint8Array(columns) };
}

/** A line that lies elsewhere and tells columns of itself, as far as they are here. */
export interface ColumnSource {
	readonly unit: Seconds;
	/** Fills the first `count` entries: columns of `width` units from `start` on; toggled is ABSENT where nothing is known yet. */
	fillColumns(start: number, width: number, count: number, into: Columns): void;
}

/** Stands for a column that is not here yet. */
export const ABSENT = 3;

/** Fills the first viewport.columns entries of `into`. */
export function readColumns(source: LevelSource | ColumnSource, placement: Placement, viewport: Viewport, into: Columns): void {
	const { offsetPs, unitPs } = placement;
	const unitsPerColumn = viewport.perColumn / unitPs;
	const first = (viewport.start - offsetPs) / unitPs;
	if ('fillColumns' in source) return source.fillColumns(first, unitsPerColumn, viewport.columns, into);
	let before = source.edgesBefore(first);
	let level = source.levelAfter(before);
	for (let column = 0; column < viewport.columns; column++) {
		const after = source.edgesBefore(first + (column + 1) * unitsPerColumn);
		into.entry[column] = level;
		const edges = after - before;
		if (edges > 0) level = source.levelAfter(after);
		into.exit[column] = level;
		into.toggled[column] = edges > 1 ? 2 : edges;
		before = after;
	}
}

/** Joins columns that look alike into as few items as there are. */
export function drawList(columns: Columns, count: number): DrawItem[] {
	const items: DrawItem[] = [];
	for (let at = 0; at < count;) {
		const toggled = columns.toggled[at];
		if (toggled === 1) {
			items.push({ kind: 'edge', at, before: columns.entry[at] as Level, after: columns.exit[at] as Level });
			at++;
			continue;
		}
		let to = at + 1;
		while (to < count && columns.toggled[to] === toggled) to++;
		if (toggled !== ABSENT)
			items.push(toggled === 2 ? { kind: 'busy', from: at, to } : { kind: 'flat', from: at, to, level: columns.entry[at] as Level });
		at = to;
	}
	return items;
}

/** Both steps at once, for a lane. */
export function laneScene(source: LevelSource | ColumnSource, placement: Placement, viewport: Viewport, workspace: Columns): DrawItem[] {
	readColumns(source, placement, viewport, workspace);
	return drawList(workspace, viewport.columns);
}
