export { codesOf, quantitiesOf } from './quantities.js';
