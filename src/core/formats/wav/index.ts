export { isWav, WavReader } from './reader.js';
