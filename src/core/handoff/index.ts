export { codesOf, quantitiesOf } from './quantities.js';
export { handOff } from './handOff.js';
export type { HandOff } from './handOff.js';
export { codeOf } from './code/files.js';
export type { CodeFiles } from './code/files.js';
export { PLAIN_STYLE, readStyle } from './code/style.js';
export type { CodeStyle } from './code/style.js';
