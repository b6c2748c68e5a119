import { planQuestion } from '../core/plan/index.js';
import { RateSearch } from '../core/solve/index.js';
import { toWireAnswer, type RatesWorker } from './ratesWire.js';

/** Nodes of the search tree between two looks at what the page says; the first look comes early. */
const FIRST = 2_000;
const STEP = 40_000;

export const ratesWork: RatesWorker = {
	async search(plan, keep, onProgress) {
		const search = new RateSearch(planQuestion(plan).question, keep);
		for (let progress = search.step(FIRST); ; progress = search.step(STEP)) {
			const go = await onProgress({ ...progress, combinations: search.combinations.toString(), answers: search.best().map(toWireAnswer) });
			if (progress.done || go !== 'on') return;
		}
	}
};
