import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'measured width',
	begin: 'width',
	offer: 'a pulse width to measure',
	cannot: 'captures no second edge'
};
