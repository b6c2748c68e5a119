export { measurePulses, PulseMeter } from './pulse.js';
export type { PulseMeasures, Window } from './pulse.js';
export { measureDelay, measureGap, measureNear } from './relation.js';
export type { DelayMeasures } from './relation.js';
export type { Statistics } from './statistics.js';
export { averaged, cornerOf, filteredSpectrum, gain, segmentsOf, spectrumOf } from './averaged.js';
export type { Filter, Segment, Spectrum } from './averaged.js';
export { binsOf, CARD_KINDS, cardOf, SampleMeter, scaleOf, summarise, trendOf } from './cards/index.js';
export type { CardKind, CardScene, SampledOf, Series, SeriesBins, SeriesKind, SeriesSummary } from './cards/index.js';
