import { CODE } from './code.js';

/** Every runtime has them; the core's own types know nothing beyond the language. */
const { atob: plainBytes, WebAssembly: Assembly } = globalThis as unknown as {
	atob: (base64: string) => string;
	WebAssembly: { Module: new (bytes: Uint8Array) => object; Instance: new (module: object) => { exports: Exports } };
};

interface Cell {
	readonly value: number;
}

/** What assembly/kernels.ts exports; its comments say what each does. */
interface Exports {
	readonly memory: { readonly buffer: ArrayBuffer };
	readonly rows: Cell;
	readonly fed: Cell;
	readonly rounded: Cell;
	readonly changes: Cell;
	readonly places: Cell;
	readonly shortest: Cell;
	readonly longest: Cell;
	readonly full: Cell;
	reached(): number;
	words(at: number, end: number, from: number, coarser: number): number;
	levelRows(at: number, end: number, before: number, lines: number, separator: number, decimal: number, exponent: number): number;
	column(first: number, stride: number, count: number, size: number, float: number, table: number): void;
	tally(count: number, from: number, inverse: number): number;
	periods(from: number, count: number, wide: number, rise: number, period0: number, high0: number, low0: number): number;
	turns(count: number): number;
	ratios(from: number, count: number, first: number): number;
}

type Places = Record<
	| 'PIECE'
	| 'LINES'
	| 'EDGES'
	| 'CODES'
	| 'BINS'
	| 'INPUT'
	| 'COLUMN'
	| 'COUNTS'
	| 'FIRSTS'
	| 'LEVELS'
	| 'FED'
	| 'OPEN'
	| 'TALLY'
	| 'TIMES'
	| 'BEFORES'
	| 'PERIODS'
	| 'HIGHS'
	| 'SUMMED'
	| 'VALUES'
	| 'CHANNELS',
	Cell
>;

/** The compiled loops with views of their memory. */
export type Kernels = ReturnType<typeof openKernels>;

/** A set of one's own, for who keeps something in its memory from call to call. */
export function openKernels() {
	const bytes = Uint8Array.from(plainBytes(CODE), (letter) => letter.charCodeAt(0));
	const code = new Assembly.Instance(new Assembly.Module(bytes)).exports as Exports & Places;
	const { buffer } = code.memory;
	const [lines, edges, bins] = [code.LINES.value, code.EDGES.value, code.BINS.value];
	return {
		code,
		/** Bytes that one call works on at the most, lines that it feeds, and edges that each gets. */
		piece: code.PIECE.value,
		lines,
		edges,
		input: new Uint8Array(buffer, code.INPUT.value, 2 * code.PIECE.value),
		input32: new Uint32Array(buffer, code.INPUT.value, code.PIECE.value / 2),
		input64: new Float64Array(buffer, code.INPUT.value, code.PIECE.value / 4),
		column: new Float32Array(buffer, code.COLUMN.value, code.PIECE.value / 2),
		/** The column's place, as bytes. */
		levelColumn: new Uint8Array(buffer, code.COLUMN.value, code.PIECE.value),
		counts: new Uint32Array(buffer, code.COUNTS.value, lines),
		firsts: new Uint8Array(buffer, code.FIRSTS.value, lines),
		levels: new Uint8Array(buffer, code.LEVELS.value, lines),
		fed: new Uint8Array(buffer, code.FED.value, lines),
		open: new Uint8Array(buffer, code.OPEN.value, code.CODES.value),
		tally: new Float64Array(buffer, code.TALLY.value, 2 * bins),
		times: new Float64Array(buffer, code.TIMES.value, lines * edges),
		befores: new Float64Array(buffer, code.BEFORES.value, lines * edges),
		periods: new Float64Array(buffer, code.PERIODS.value, code.PIECE.value / 8),
		highs: new Float64Array(buffer, code.HIGHS.value, code.PIECE.value / 8),
		summed: new Float64Array(buffer, code.SUMMED.value, 15),
		values: new Uint32Array(buffer, code.VALUES.value, code.CHANNELS.value * 65_536)
	};
}

let opened: Kernels | undefined;

/**
 * The one set a thread has: a memory each would use up the addresses that a runtime keeps free around them. Whoever calls one puts all it
 * works on into the memory before and takes out all it found behind, and calls nothing else in between that might use it.
 */
export function kernels(): Kernels {
	return (opened ??= openKernels());
}
