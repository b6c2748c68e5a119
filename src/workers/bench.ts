import { Rational } from '../core/exact/index.js';
import {
	binsOf,
	cardOf,
	measurePulses,
	scaleOf,
	summarise,
	trendOf,
	type SampledOf,
	type Series,
	type SeriesKind,
	type Window
} from '../core/measure/index.js';
import { steadyWave } from '../core/timer/index.js';
import { Disagreement, lowerBound, StretchedTrace, type LevelSource } from '../core/trace/index.js';
import { MOST_EDGES, toWire, type BenchWorker, type CardAsked, type LineFrame, type WireMeasures, type WireWave } from './benchWire.js';
import { layRecording } from './layings.js';
import { askServer, loadLine, loadWithin } from './loadLine.js';

/** Bars of a card's histogram, and points of its trend. */
const [BINS, POINTS] = [40, 600];

export const benchWork: BenchWorker = {
	load: async (frame) => [...(await loadLine(frame)).chunks],
	measure: async (frame, window) =>
		frame.edges > MOST_EDGES
			? askServer<WireMeasures>(frame, `measure?from=${window.start}&to=${window.end}`)
			: toWire(measurePulses(await loadLine(frame), window)),
	async card(asked) {
		const series = await seriesOf(asked);
		if (!series) return null;
		const unit = Rational.parse(asked.line.unit);
		const { kind } = series;
		const found = summarise(series, unit);
		const scale = scaleOf(kind, unit);
		const bins = binsOf(series, BINS);
		return {
			kind,
			summary: found && {
				...found,
				mean: found.mean.toString(),
				min: found.min.toString(),
				max: found.max.toString(),
				median: found.median.toString()
			},
			bins: { ...bins, from: bins.from * scale, to: bins.to * scale },
			trend: trendOf(series, POINTS).map(({ at, value }) => ({ at, value: value * scale }))
		};
	},
	async cardStep(asked, time, by) {
		const at = (await seriesOf(asked))?.at;
		if (!at) return null;
		// Half a unit keeps what is rounded from being met again.
		const next = lowerBound(at, at.length, time + by / 2) - (by > 0 ? 0 : 1);
		return at[next] ?? null;
	},
	align: async (asked) => ({ found: await layRecording(asked) }),
	async disagree(frame, wave, shift) {
		if (frame.edges > MOST_EDGES || (wave.kind === 'recorded' && wave.frame.edges > MOST_EDGES)) return null;
		const planned = await sourceOf(wave);
		if (!planned) return null;
		const until = wave.kind === 'predicted' ? (wave.until * planned.unit.toNumber()) / Rational.parse(frame.unit).toNumber() : Infinity;
		return Disagreement.between(await loadLine(frame), planned, shift, shift + until).columns;
	}
};

/** The series that was measured last: it is stepped through more often than measured. */
let last: { key: string; series: Series } | undefined;

async function seriesOf(asked: CardAsked): Promise<Series | undefined> {
	const { of, line, other, window, limit } = asked;
	const key = JSON.stringify(asked);
	const { series, samples, kind } = cardOf(of);
	if (last?.key !== key && samples) last = { key, series: await sampledSeries(line, samples, kind, window) };
	else if (last?.key !== key) {
		const trace = await loadWithin(line, window);
		const beside = other && (await loadWithin(other, window));
		if (!trace || (other && !beside)) return undefined;
		last = { key, series: series!({ trace, window, limit, ...(beside && { other: beside }) }) };
	}
	return last.series;
}

/** What the server measures on a line's samples: pairs of when and what. */
async function sampledSeries({ url, version }: LineFrame, of: SampledOf, kind: SeriesKind, { start, end }: Window): Promise<Series> {
	const response = await fetch(`${url}/samples/card?of=${of}&from=${start}&to=${end}&v=${version}`);
	if (!response.ok) throw new Error(`the samples could not be measured (${response.status})`);
	const pairs = new Float64Array(await response.arrayBuffer());
	const column = (at: 0 | 1) => Float64Array.from({ length: pairs.length / 2 }, (_, i) => pairs[2 * i + at]);
	return { kind, at: column(0), parts: column(1) };
}

async function sourceOf(wave: WireWave): Promise<LevelSource | null> {
	if (wave.kind === 'recorded') return loadLine(wave.frame);
	if (wave.kind === 'steady') return steadyWave(wave.setting, Rational.parse(wave.tick));
	const { initial, times, repeats } = wave.columns;
	return new StretchedTrace(Rational.parse(wave.unit), initial, times, repeats);
}
