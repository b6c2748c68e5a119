export { hertz, seconds, ppm, percent, decimal, hundred, signed, hex } from './numbers.js';
export { arithmetic, factorText } from './clock.js';
export { problemText, wishProblemText } from './problems.js';
export { findingText, findingPlace } from './findings.js';
export { figureName, formulaText } from './jobs.js';
export { profileKey, profilePlace } from './part.js';
export { OUTCOME, verdictText, suspectText, noteText } from './bench.js';
