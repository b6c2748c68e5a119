export { believed, readInstrumentOf, readValueAs } from './value.js';
export type { ReadInstrument, ReadValue, ValueTrouble, ValueUnit } from './value.js';
export { judgeReading, readable } from './reading.js';
export type { JudgedReading, ReadingTrouble } from './reading.js';
export { judgeSweep, overDecades, sweepRelations, sweepSteps } from './sweep.js';
export type { JudgedSweep, SweepFit, SweepRow, SweepTrouble } from './sweep.js';
export { readPairs } from './log.js';
export type { PairLog } from './log.js';
