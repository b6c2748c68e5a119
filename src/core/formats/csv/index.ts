export { CsvReader } from './reader.js';
