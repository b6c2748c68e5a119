import * as Comlink from 'comlink';
import { planQuestion } from '../core/plan/index.js';
import { RateSearch } from '../core/solve/index.js';
import { toWireAnswer, type RatesWorker } from './ratesWire.js';

/** Nodes of the search tree between two looks at what the page says; the first look comes early. */
const FIRST = 2_000;
const STEP = 40_000;

let current = 0;

const worker: RatesWorker = {
	async search(plan, keep, onProgress) {
		const mine = ++current;
		const search = new RateSearch(planQuestion(plan).question, keep);
		for (let progress = search.step(FIRST); ; progress = search.step(STEP)) {
			await onProgress({ ...progress, combinations: search.combinations.toString(), answers: search.best().map(toWireAnswer) });
			if (progress.done || mine !== current) return;
		}
	},
	stop() {
		current++;
	}
};

Comlink.expose(worker);
