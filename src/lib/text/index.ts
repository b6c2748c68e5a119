export { hertz, seconds, ppm, percent, decimal, hundred, signed, hex, decade } from './numbers.js';
export { arithmetic, factorText } from './clock.js';
export { problemText, wishProblemText } from './problems.js';
export { findingText, findingPlace, linkName } from './findings.js';
export { sharedText } from './sharing.js';
export { figureName, formulaText } from './jobs.js';
export { profileKey, profilePlace, outputText } from './part.js';
export { OUTCOME, verdictText, suspectText, noteText, misreadText, roleText, signsText } from './bench.js';
