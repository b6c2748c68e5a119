export { VcdReader } from './reader.js';
