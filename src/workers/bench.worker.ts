import * as Comlink from 'comlink';
import { Rational } from '../core/exact/index.js';
import { measurePulses } from '../core/measure/index.js';
import { steadyWave } from '../core/timer/index.js';
import { Disagreement, Trace, unpackChunks } from '../core/trace/index.js';
import { toWire, type BenchWorker } from './protocol.js';

const traces = new Map<string, Trace>();

function loaded(url: string): Trace {
	const trace = traces.get(url);
	if (!trace) throw new Error(`the line ${url} is not loaded`);
	return trace;
}

const worker: BenchWorker = {
	async load({ url, unit, start, end, initial }) {
		const known = traces.get(url);
		if (known) return [...known.chunks];
		const response = await fetch(url);
		if (!response.ok) throw new Error(`the recorded line could not be loaded (${response.status})`);
		const chunks = unpackChunks(new Uint8Array(await response.arrayBuffer()));
		traces.set(url, new Trace({ unit: Rational.parse(unit), start, end, initial }, chunks));
		return chunks;
	},
	measure: (url, window) => toWire(measurePulses(loaded(url), window)),
	disagree(url, { setting, tick }, shift) {
		const wave = steadyWave(setting, Rational.parse(tick));
		return wave && Disagreement.between(loaded(url), wave, shift).columns;
	}
};

Comlink.expose(worker);
