import * as Comlink from 'comlink';
import type { BenchWorker } from './protocol.js';

let bench: Comlink.Remote<BenchWorker> | undefined;

/** The page's one bench worker, started at first use. */
export function benchWorker(): Comlink.Remote<BenchWorker> {
	bench ??= Comlink.wrap<BenchWorker>(new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' }));
	return bench;
}
