import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'measured rate',
	begin: 'capture',
	offer: 'a rate to measure',
	cannot: 'captures no edges'
};
