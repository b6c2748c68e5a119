export { CsvReader } from './reader.js';
export { edgePieces } from './writer.js';
