export { CsvReader } from './reader.js';
export { csvRow, edgePieces } from './writer.js';
