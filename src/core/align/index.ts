export { align } from './align.js';
export { apart } from './lines.js';
export { recordedRow } from './rows.js';
export type { Aligned, AlignedLine, AlignSettings, LineToAlign } from './align.js';
export type { EdgeRow, Laying, PlannedRow, RecordedRow } from './lines.js';
