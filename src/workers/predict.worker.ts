import * as Comlink from 'comlink';
import { Rational } from '../core/exact/index.js';
import { Predictor } from '../core/sim/index.js';
import type { PredictWorker, WirePrediction } from './predict.js';

/** Moments between two looks at what the page says, and in all: more edges than that no one looks at. */
const STEP = 20_000;
const MOST = 3_000_000;

let current = 0;

const worker: PredictWorker = {
	async predict(system, until, onProgress) {
		const mine = ++current;
		const predictor = new Predictor(system, Rational.one);
		let done = predictor.runTo(until, STEP);
		for (let moments = STEP; !done && moments < MOST && mine === current; moments += STEP) {
			await onProgress(predictor.reached);
			done = predictor.runTo(until, STEP);
		}
		const { outputs, updates } = predictor.prediction();
		const columns = (all: typeof outputs): WirePrediction['outputs'] => [...all].map(([name, trace]) => [name, trace.columns]);
		return { reached: Math.min(until, predictor.reached), done, outputs: columns(outputs), updates: columns(updates) };
	},
	stop() {
		current++;
	}
};

Comlink.expose(worker);
