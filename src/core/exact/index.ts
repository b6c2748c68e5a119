export { Rational, gcd, gcdSafe } from './rational.js';
export { MILLION, ppmError } from './units.js';
export type { Hertz, Seconds, Ppm, Ticks } from './units.js';
export { readQuantity } from './quantity.js';
export type { Quantity, Dimension, ReadResult, ReadFailure } from './quantity.js';
export { showEngineering, showDecimal, decimalText, exactText, wholeText, hex } from './print.js';
export type { Shown } from './print.js';
