import { Rational } from '../core/exact/index.js';
import { measurePulses } from '../core/measure/index.js';
import { steadyWave } from '../core/timer/index.js';
import { Disagreement, StretchedTrace, type LevelSource } from '../core/trace/index.js';
import { MOST_EDGES, toWire, type BenchWorker, type WireMeasures, type WireWave } from './benchWire.js';
import { askServer, loadLine } from './loadLine.js';

export const benchWork: BenchWorker = {
	load: async (frame) => [...(await loadLine(frame)).chunks],
	measure: async (frame, window) =>
		frame.edges > MOST_EDGES
			? askServer<WireMeasures>(frame, `measure?from=${window.start}&to=${window.end}`)
			: toWire(measurePulses(await loadLine(frame), window)),
	async disagree(frame, wave, shift) {
		const planned = plannedSource(wave);
		if (!planned || frame.edges > MOST_EDGES) return null;
		const until = wave.kind === 'predicted' ? (wave.until * planned.unit.toNumber()) / Rational.parse(frame.unit).toNumber() : Infinity;
		return Disagreement.between(await loadLine(frame), planned, shift, shift + until).columns;
	}
};

function plannedSource(wave: WireWave): LevelSource | null {
	if (wave.kind === 'steady') return steadyWave(wave.setting, Rational.parse(wave.tick));
	const { initial, times, repeats } = wave.columns;
	return new StretchedTrace(Rational.parse(wave.unit), initial, times, repeats);
}
