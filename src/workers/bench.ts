import { Rational } from '../core/exact/index.js';
import { measurePulses } from '../core/measure/index.js';
import { steadyWave } from '../core/timer/index.js';
import { Disagreement, StretchedTrace, type LevelSource } from '../core/trace/index.js';
import { toWire, type BenchWorker, type WireWave } from './benchWire.js';
import { loadLine } from './loadLine.js';

export const benchWork: BenchWorker = {
	load: async (frame) => [...(await loadLine(frame)).chunks],
	measure: async (frame, window) => toWire(measurePulses(await loadLine(frame), window)),
	async disagree(frame, wave, shift) {
		const planned = plannedSource(wave);
		if (!planned) return null;
		const until = wave.kind === 'predicted' ? (wave.until * planned.unit.toNumber()) / Rational.parse(frame.unit).toNumber() : Infinity;
		return Disagreement.between(await loadLine(frame), planned, shift, shift + until).columns;
	}
};

function plannedSource(wave: WireWave): LevelSource | null {
	if (wave.kind === 'steady') return steadyWave(wave.setting, Rational.parse(wave.tick));
	const { initial, times, repeats } = wave.columns;
	return new StretchedTrace(Rational.parse(wave.unit), initial, times, repeats);
}
