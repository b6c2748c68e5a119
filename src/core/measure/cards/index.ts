import { edgeSeries } from './edges.js';
import { missedSeries, positionSeries, speedSeries, turnSeries } from './encoder.js';
import { bounceSeries, burstSeries } from './groups.js';
import { answerSeries, delaySeries, gapSeries, overlapSeries, phaseSeries } from './pairs.js';
import { dutySeries, frequencySeries, periodSeries } from './periods.js';
import type { SampledOf } from './sampled.js';
import type { CardScene, Series, SeriesKind } from './series.js';
import { glitchSeries, highSeries, lowSeries, pauseSeries } from './widths.js';

/** What can be measured on a card. To add one: a function that gives its series, and a line here. */
interface CardDefinition {
	kind: SeriesKind;
	/** Left out: it is measured on the samples of an analogue line. */
	series?: (scene: CardScene) => Series;
	samples?: SampledOf;
	/** It holds one line against another. */
	pair?: true;
	/** It hangs on a limit of time. */
	limit?: true;
}

export const CARDS = {
	period: { kind: 'time', series: periodSeries },
	frequency: { kind: 'rate', series: frequencySeries },
	high: { kind: 'time', series: highSeries },
	low: { kind: 'time', series: lowSeries },
	duty: { kind: 'ratio', series: dutySeries },
	edges: { kind: 'time', series: edgeSeries },
	delay: { kind: 'time', series: delaySeries, pair: true },
	phase: { kind: 'degrees', series: phaseSeries, pair: true },
	gap: { kind: 'time', series: gapSeries, pair: true },
	overlap: { kind: 'time', series: overlapSeries, pair: true },
	answers: { kind: 'time', series: answerSeries, pair: true, limit: true },
	glitches: { kind: 'time', series: glitchSeries, limit: true },
	pauses: { kind: 'time', series: pauseSeries, limit: true },
	bursts: { kind: 'count', series: burstSeries, limit: true },
	bounce: { kind: 'time', series: bounceSeries, limit: true },
	position: { kind: 'count', series: positionSeries, pair: true },
	speed: { kind: 'rate', series: speedSeries, pair: true },
	turns: { kind: 'count', series: turnSeries, pair: true },
	missed: { kind: 'count', series: missedSeries, pair: true },
	top: { kind: 'level', samples: 'top' },
	base: { kind: 'level', samples: 'base' },
	rise: { kind: 'slew', samples: 'rise' },
	fall: { kind: 'slew', samples: 'fall' }
} as const satisfies Record<string, CardDefinition>;

export type CardKind = keyof typeof CARDS;
export const CARD_KINDS = Object.keys(CARDS) as [CardKind, ...CardKind[]];

export const cardOf = (kind: CardKind): CardDefinition => CARDS[kind];

export { SampleMeter } from './sampled.js';
export type { SampledOf } from './sampled.js';
export type { CardScene, Series, SeriesKind } from './series.js';
export { binsOf, scaleOf, summarise, trendOf } from './summary.js';
export type { SeriesBins, SeriesSummary } from './summary.js';
