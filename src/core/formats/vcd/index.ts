export { VcdReader } from './reader.js';
export { vcdPieces, writeVcd, MOST_DUMPED } from './writer.js';
