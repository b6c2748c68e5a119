export { VcdReader } from './reader.js';
export { writeVcd, MOST_DUMPED } from './writer.js';
export type { DumpLine } from './writer.js';
