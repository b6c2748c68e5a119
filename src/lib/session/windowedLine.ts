import { Rational, type Seconds } from '../../core/exact/index.js';
import type { LineFrame } from '../../workers/benchWire.js';
import { ABSENT, type Columns, type ColumnSource } from '../wave/index.js';

/** Columns of a tile, and tiles of a line that are kept; what was out of sight longest goes first. */
const TILE = 1024;
const MOST_TILES = 192;
/** A tile so many levels coarser comes at once; the fine ones when the view has rested so long. */
const COARSER = 4;
const REST_MS = 70;
/** Levels up which a coarser tile is looked for meanwhile. */
const UP = 40;

/**
 * A recorded line that is too long to be held: columns of it in tiles, each of 1024 columns of 2^level units, asked for as they come into
 * sight. What is not here yet is drawn from a coarser tile, or not at all.
 */
export class WindowedLine implements ColumnSource {
	readonly unit: Seconds;
	/** Tiles by level and number; an empty one is on its way. */
	private readonly tiles = new Map<string, Uint8Array | undefined>();
	private wanted = new Set<string>();
	private timer: ReturnType<typeof setTimeout> | undefined;
	/** The level at which a tile holds the whole line. */
	private readonly top: number;

	/** `onArrive`: called when what is in sight can be drawn better. */
	constructor(
		private readonly frame: LineFrame,
		private readonly onArrive: () => void
	) {
		this.unit = Rational.parse(frame.unit);
		this.top = Math.max(0, Math.ceil(Math.log2(Math.max(1, (frame.end - frame.start) / TILE))));
		for (const number of [this.numberAt(this.top, frame.start), this.numberAt(this.top, frame.end)]) this.fetch(keyOf(this.top, number));
	}

	fillColumns(start: number, width: number, count: number, into: Columns): void {
		const level = Math.max(0, Math.floor(Math.log2(width)));
		const size = 2 ** level;
		this.ask(level, start, start + width * count);
		let at = Math.floor(start / size);
		for (let column = 0; column < count; column++) {
			const next = Math.floor((start + (column + 1) * width) / size);
			this.merge(level, at, Math.max(at + 1, next), column, into);
			at = next;
		}
	}

	close(): void {
		clearTimeout(this.timer);
		this.tiles.clear();
	}

	/** Columns from..to-1 of a level as one. */
	private merge(level: number, from: number, to: number, column: number, into: Columns): void {
		let edges = 0;
		let entry = -1;
		let exit = 0;
		for (let i = from; i < to; i++) {
			const cell = this.cell(level, i);
			if (cell === undefined) {
				into.toggled[column] = ABSENT;
				return;
			}
			edges += (cell >> 2) & 3;
			if (entry < 0) entry = cell & 3;
			exit = cell >> 4;
		}
		into.entry[column] = entry;
		into.exit[column] = exit;
		into.toggled[column] = Math.min(2, edges);
	}

	/** A column of a level, or of the next coarser one that is here. */
	private cell(level: number, i: number): number | undefined {
		for (let up = 0; up <= UP && level + up <= this.top; up++) {
			const column = Math.floor(i / 2 ** up);
			const tile = this.tiles.get(keyOf(level + up, Math.floor(column / TILE)));
			if (tile) {
				const cell = tile[column - Math.floor(column / TILE) * TILE];
				// Where a coarse column holds one edge it is not known in which of the finer ones.
				return up > 0 && ((cell >> 2) & 3) === 1 ? 2 << 2 : cell;
			}
		}
		return undefined;
	}

	private numberAt(level: number, time: number): number {
		return Math.floor(time / (TILE * 2 ** level));
	}

	/** Asks for the tiles of what is in sight: coarse ones at once, fine ones when the view rests. */
	private ask(level: number, from: number, to: number): void {
		const coarse = Math.min(this.top, level + COARSER);
		for (const key of this.missing(coarse, from, to)) this.fetch(key);
		this.wanted = new Set(this.missing(level, from, to));
		clearTimeout(this.timer);
		if (this.wanted.size > 0) this.timer = setTimeout(() => this.wanted.forEach((key) => this.fetch(key)), REST_MS);
	}

	private missing(level: number, from: number, to: number): string[] {
		const { start, end } = this.frame;
		const [first, last] = [this.numberAt(level, Math.max(start, from)), this.numberAt(level, Math.min(end, to))];
		const keys: string[] = [];
		for (let number = first; number <= last && keys.length < 8; number++) {
			const key = keyOf(level, number);
			const tile = this.tiles.get(key);
			if (!this.tiles.has(key)) keys.push(key);
			else if (tile) {
				// What is in sight was used last.
				this.tiles.delete(key);
				this.tiles.set(key, tile);
			}
		}
		return keys;
	}

	private fetch(key: string): void {
		if (this.tiles.has(key)) return;
		this.tiles.set(key, undefined);
		const [level, number] = key.split('/').map(Number);
		const { url, version } = this.frame;
		const width = 2 ** level;
		fetch(`${url}/window?start=${number * TILE * width}&width=${width}&count=${TILE}&v=${version}`)
			.then(async (response) => {
				if (!response.ok) throw new Error(String(response.status));
				this.tiles.set(key, new Uint8Array(await response.arrayBuffer()));
				this.forget();
				this.onArrive();
			})
			// It is asked for again when it comes into sight the next time.
			.catch(() => this.tiles.delete(key));
	}

	private forget(): void {
		for (const [key, tile] of this.tiles) {
			if (this.tiles.size <= MOST_TILES) return;
			if (tile && !key.startsWith(`${this.top}/`)) this.tiles.delete(key);
		}
	}
}

function keyOf(level: number, number: number): string {
	return `${level}/${number}`;
}
