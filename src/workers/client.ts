import * as Comlink from 'comlink';
import type { BenchWorker } from './benchWire.js';
import type { PredictWorker } from './predictWire.js';
import type { RatesWorker } from './ratesWire.js';

let bench: Comlink.Remote<BenchWorker> | undefined;

/** The page's one bench worker, started at first use. */
export function benchWorker(): Comlink.Remote<BenchWorker> {
	bench ??= Comlink.wrap<BenchWorker>(new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' }));
	return bench;
}

let rates: Comlink.Remote<RatesWorker> | undefined;

/** The page's one worker that searches clock rates, started at first use. */
export function ratesWorker(): Comlink.Remote<RatesWorker> {
	rates ??= Comlink.wrap<RatesWorker>(new Worker(new URL('./rates.worker.ts', import.meta.url), { type: 'module' }));
	return rates;
}

let predict: Comlink.Remote<PredictWorker> | undefined;

/** The page's one worker that predicts plans, started at first use. */
export function predictWorker(): Comlink.Remote<PredictWorker> {
	predict ??= Comlink.wrap<PredictWorker>(new Worker(new URL('./predict.worker.ts', import.meta.url), { type: 'module' }));
	return predict;
}

/** A function that a worker may call. */
export const callback = Comlink.proxy;
