import { Rational } from '../core/exact/index.js';
import { Trace, unpackChunks } from '../core/trace/index.js';
import type { LineFrame } from './benchWire.js';

const traces = new Map<string, Trace>();

/** A recorded line by its address, fetched once. Throws when it cannot be had. */
export async function loadLine({ url, unit, start, end, initial }: LineFrame): Promise<Trace> {
	const known = traces.get(url);
	if (known) return known;
	const response = await fetch(url);
	if (!response.ok) throw new Error(`the recorded line could not be loaded (${response.status})`);
	const chunks = unpackChunks(new Uint8Array(await response.arrayBuffer()));
	const trace = new Trace({ unit: Rational.parse(unit), start, end, initial }, chunks);
	traces.set(url, trace);
	return trace;
}

/** A line that was loaded before. Throws when it was not. */
export function loadedLine(url: string): Trace {
	const trace = traces.get(url);
	if (!trace) throw new Error(`the line ${url} is not loaded`);
	return trace;
}
