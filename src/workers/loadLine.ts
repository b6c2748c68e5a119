import { Rational } from '../core/exact/index.js';
import { Trace, unpackChunks, type EdgeChunk } from '../core/trace/index.js';
import type { Window } from '../core/measure/index.js';
import { MOST_EDGES, type LineFrame } from './benchWire.js';

/** Lines that are kept, and their edges in all: what was long not asked for is forgotten. */
const MOST_KEPT = 40_000_000;
const traces = new Map<string, { edges: number; trace: Promise<Trace> }>();

const keyOf = ({ url, version }: LineFrame) => `${url} ${version}`;

/** A recorded line by its address, fetched once; one that failed is tried again. Throws when it cannot be had. */
export function loadLine(frame: LineFrame): Promise<Trace> {
	const key = keyOf(frame);
	const known = traces.get(key);
	traces.delete(key);
	const loading = known ?? { edges: frame.edges, trace: fetchLine(frame) };
	traces.set(key, loading);
	loading.trace.catch(() => traces.delete(key));
	forget();
	return loading.trace;
}

function forget(): void {
	let kept = [...traces.values()].reduce((sum, { edges }) => sum + edges, 0);
	for (const [key, { edges }] of traces) {
		if (kept <= MOST_KEPT || traces.size === 1) return;
		traces.delete(key);
		kept -= edges;
	}
}

/** Page by page: an answer holds so many chunks at the most, and says which comes next. */
async function fetchLine({ url, version, unit, start, end, initial }: LineFrame): Promise<Trace> {
	const chunks: EdgeChunk[] = [];
	for (let next: string | null = '0'; next !== null;) {
		const response: Response = await fetch(`${url}?first=${next}&v=${version}`);
		if (!response.ok) throw new Error(`the recorded line could not be loaded (${response.status})`);
		for (const chunk of unpackChunks(new Uint8Array(await response.arrayBuffer()))) chunks.push(chunk);
		next = response.headers.get('x-next');
	}
	return new Trace({ unit: Rational.parse(unit), start, end, initial }, chunks);
}

/** An answer that says: more edges than one answer holds. */
const TOO_MANY = 413;

/** The edges of a line in a window, and the one before it; all of a line that is not long. undefined where even so they are too many. */
export async function loadWithin(frame: LineFrame, window: Window, most = MOST_EDGES): Promise<Trace | undefined> {
	if (frame.edges <= MOST_EDGES) return loadLine(frame);
	const [start, end] = [Math.max(frame.start, window.start), Math.min(frame.end, window.end)];
	const { time } = await askServer<{ time: number | null }>(frame, `next?time=${start}&by=-1`);
	const chunks = await chunksWithin(frame, time ?? frame.start, end, most);
	if (!chunks) return undefined;
	// The level before the edge in front of the window is nobody's business.
	const initial = time === null ? frame.initial : 2;
	return new Trace({ unit: Rational.parse(frame.unit), start, end, initial }, chunks);
}

/** The window in halves, until each is an answer. */
async function chunksWithin(frame: LineFrame, from: number, to: number, most: number): Promise<EdgeChunk[] | undefined> {
	const response = await fetch(`${frame.url}?from=${from}&to=${to}&v=${frame.version}`);
	if (response.ok) {
		const chunks = unpackChunks(new Uint8Array(await response.arrayBuffer()));
		return edgesIn(chunks) <= most ? chunks : undefined;
	}
	if (response.status !== TOO_MANY || !(to - from >= 1)) throw new Error(`the recorded line could not be loaded (${response.status})`);
	const middle = (from + to) / 2;
	const left = await chunksWithin(frame, from, middle, most);
	const right = left && (await chunksWithin(frame, middle, to, most - edgesIn(left)));
	if (!right) return undefined;
	// Chunks that touch the middle came twice.
	const last = left.at(-1);
	return [...left, ...right.filter(({ base }) => !last || base > last.base)];
}

const edgesIn = (chunks: readonly EdgeChunk[]) => chunks.reduce((sum, { levels }) => sum + levels.length, 0);

/** What the server measures of a line that is too long to be loaded. */
export async function askServer<T>({ url, version }: LineFrame, what: string): Promise<T> {
	const response = await fetch(`${url}/${what}&v=${version}`);
	if (!response.ok) throw new Error(`the recorded line could not be measured (${response.status})`);
	return (await response.json()) as T;
}
