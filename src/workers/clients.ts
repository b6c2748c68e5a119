import * as Comlink from 'comlink';
import type { BenchWorker } from './benchWire.js';
import type { CheckWorker } from './checkWire.js';
import type { FilesWorker } from './filesWire.js';
import { WorkerPool, type Go } from './pool.js';
import type { PredictWorker } from './predictWire.js';
import type { RatesWorker } from './ratesWire.js';

/** Recorded lines: loaded, measured and compared. One worker, which keeps what it has loaded. */
export const benchWorkers = new WorkerPool<BenchWorker>(
	() => new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' })
);

/** Predictions: two, so that a short question does not wait for an hour of waves. */
export const predictWorkers = new WorkerPool<PredictWorker>(
	() => new Worker(new URL('./predict.worker.ts', import.meta.url), { type: 'module' }),
	2
);

/** Files before they are sent. */
export const filesWorkers = new WorkerPool<FilesWorker>(
	() => new Worker(new URL('./files.worker.ts', import.meta.url), { type: 'module' })
);

/** Verdicts and suspects of a whole plan. */
export const checkWorkers = new WorkerPool<CheckWorker>(
	() => new Worker(new URL('./check.worker.ts', import.meta.url), { type: 'module' })
);

/** The search for clock rates. */
export const ratesWorkers = new WorkerPool<RatesWorker>(
	() => new Worker(new URL('./rates.worker.ts', import.meta.url), { type: 'module' })
);

/** A function that a worker tells its progress to: it tells the pool and the page, and answers with what the page wants. */
export function progress<T>(heard: () => void, told: (value: T) => void, go: () => Go): (value: T) => Go {
	return Comlink.proxy((value: T) => {
		heard();
		const answer = go();
		if (answer !== 'drop') told(value);
		return answer;
	});
}
