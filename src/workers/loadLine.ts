import { Rational } from '../core/exact/index.js';
import { Trace, unpackChunks, type EdgeChunk } from '../core/trace/index.js';
import type { LineFrame } from './benchWire.js';

/** Lines that are kept, and their edges in all: what was long not asked for is forgotten. */
const MOST_KEPT = 12_000_000;
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

/** What the server measures of a line that is too long to be loaded. */
export async function askServer<T>({ url, version }: LineFrame, what: string): Promise<T> {
	const response = await fetch(`${url}/${what}&v=${version}`);
	if (!response.ok) throw new Error(`the recorded line could not be measured (${response.status})`);
	return (await response.json()) as T;
}
