import { Rational } from '../core/exact/index.js';
import { Trace, unpackChunks } from '../core/trace/index.js';
import type { LineFrame } from './benchWire.js';

const traces = new Map<string, Promise<Trace>>();

/** A recorded line by its address, fetched once; one that failed is tried again. Throws when it cannot be had. */
export function loadLine(frame: LineFrame): Promise<Trace> {
	const known = traces.get(frame.url);
	if (known) return known;
	const loading = fetchLine(frame);
	traces.set(frame.url, loading);
	loading.catch(() => traces.delete(frame.url));
	return loading;
}

async function fetchLine({ url, unit, start, end, initial }: LineFrame): Promise<Trace> {
	const response = await fetch(url);
	if (!response.ok) throw new Error(`the recorded line could not be loaded (${response.status})`);
	const chunks = unpackChunks(new Uint8Array(await response.arrayBuffer()));
	return new Trace({ unit: Rational.parse(unit), start, end, initial }, chunks);
}
