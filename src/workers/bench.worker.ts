import * as Comlink from 'comlink';
import { Rational } from '../core/exact/index.js';
import { measurePulses } from '../core/measure/index.js';
import { steadyWave } from '../core/timer/index.js';
import { Disagreement } from '../core/trace/index.js';
import { loadedLine, loadLine } from './loadLine.js';
import { toWire, type BenchWorker } from './benchWire.js';

const worker: BenchWorker = {
	load: async (frame) => [...(await loadLine(frame)).chunks],
	measure: (url, window) => toWire(measurePulses(loadedLine(url), window)),
	disagree(url, { setting, tick }, shift) {
		const wave = steadyWave(setting, Rational.parse(tick));
		return wave && Disagreement.between(loadedLine(url), wave, shift).columns;
	}
};

Comlink.expose(worker);
