import { lowerBound, type EdgeChunk, type Level } from './trace.js';

/** Edges between two of the marks that a chunk's overview keeps. */
export const MARK_EDGES = 256;

/** A line's chunks without their edges, a column each. */
export interface ChunkTable {
	/** Level before the first edge. */
	initial: Level;
	first: Float64Array;
	last: Float64Array;
	count: Float64Array;
	/** Level after the last edge. */
	level: Uint8Array;
}

/** Times of every 256th edge of a chunk, from its first on. */
export function chunkMarks({ base, offsets }: EdgeChunk): Float64Array {
	return Float64Array.from({ length: Math.ceil(offsets.length / MARK_EDGES) }, (_, i) => base + offsets[i * MARK_EDGES]);
}

/** The overview of chunks that are at hand. */
export function tableOf(initial: Level, chunks: readonly EdgeChunk[]): ChunkTable {
	const end = (values: ArrayLike<number>) => values[values.length - 1];
	return {
		initial,
		first: Float64Array.from(chunks, ({ base }) => base),
		last: Float64Array.from(chunks, ({ base, offsets }) => base + end(offsets)),
		count: Float64Array.from(chunks, ({ offsets }) => offsets.length),
		level: Uint8Array.from(chunks, ({ levels }) => end(levels))
	};
}

/** What a window's columns hang on besides the table: marks of some chunks, and edges of some. */
export interface Details {
	marks: ReadonlyMap<number, Float64Array>;
	edges: ReadonlyMap<number, EdgeChunk>;
}

/** A window in columns: bits 0 and 1 the level it is entered with, 2 and 3 its edges: 0, 1, or 2 for two and more, 4 and 5 the level it is left with; and what is still missing for it. */
export interface WindowColumns {
	columns: Uint8Array;
	/** Chunks whose marks, and those whose edges, would settle more columns; such columns are told as busy meanwhile. */
	wantedMarks: number[];
	wantedEdges: number[];
}

/**
 * Columns of `width` units from `start` on, of a line whose edges lie elsewhere. A column that holds a whole chunk, or two marks of one, has
 * two edges or more whatever they are; only where that does not settle it the edges themselves are wanted. Called with no details, then
 * with the wanted marks, then with the wanted edges too, nothing is missing any more, and no more was fetched than a screen's columns need.
 */
export function windowColumns(table: ChunkTable, start: number, width: number, count: number, details: Details): WindowColumns {
	const columns = new Uint8Array(count);
	const [wantedMarks, wantedEdges] = [new Set<number>(), new Set<number>()];
	for (let i = 0; i < count; i++) {
		const [from, to] = [start + i * width, start + (i + 1) * width];
		const [low, high] = [lowerBound(table.last, table.last.length, from), lowerBound(table.first, table.first.length, to)];
		// Chunks low..high-1 have edges in from..to, or lie around it.
		if (high - low > 2 || certainlyTwo(table, low, high, from, to, details.marks)) {
			columns[i] = 2 << 2;
			continue;
		}
		let edges = 0;
		let entry: number = low === 0 ? table.initial : table.level[low - 1];
		let exit = entry;
		let open = false;
		for (let chunk = low; chunk < high; chunk++) {
			const found = details.edges.get(chunk);
			if (table.first[chunk] >= from && table.last[chunk] < to) {
				edges += table.count[chunk];
				exit = table.level[chunk];
			} else if (found) {
				const [before, until] = [edgesUntil(found, from), edgesUntil(found, to)];
				edges += until - before;
				if (chunk === low && before > 0) entry = found.levels[before - 1];
				exit = until > 0 ? found.levels[until - 1] : exit;
			} else {
				open = true;
				(details.marks.has(chunk) ? wantedEdges : wantedMarks).add(chunk);
			}
		}
		columns[i] = open ? 2 << 2 : entry | (Math.min(2, edges) << 2) | (exit << 4);
	}
	return { columns, wantedMarks: [...wantedMarks], wantedEdges: [...wantedEdges] };
}

function certainlyTwo(table: ChunkTable, low: number, high: number, from: number, to: number, marks: Details['marks']): boolean {
	for (let chunk = low; chunk < high; chunk++) {
		if (table.first[chunk] >= from && table.last[chunk] < to && table.count[chunk] > 1) return true;
		const own = marks.get(chunk);
		if (own && lowerBound(own, own.length, to) - lowerBound(own, own.length, from) > 1) return true;
	}
	return false;
}

function edgesUntil({ base, offsets }: EdgeChunk, time: number): number {
	return lowerBound(offsets, offsets.length, time - base);
}
