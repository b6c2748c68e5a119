export { Trace, lowerBound } from './trace.js';
export type { Level, LevelSource, EdgeChunk, TraceMeta } from './trace.js';
export { TraceBuilder, CHUNK_EDGES } from './builder.js';
export { PeriodicWave } from './periodic.js';
export { StretchedTrace } from './stretched.js';
export type { Repeat, StretchedColumns } from './stretched.js';
export { Disagreement } from './disagreement.js';
export type { DisagreementColumns } from './disagreement.js';
export { packChunk, unpackChunks } from './store.js';
