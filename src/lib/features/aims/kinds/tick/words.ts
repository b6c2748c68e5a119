import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'tick',
	begin: 'tick',
	offer: 'a tick at even times',
	cannot: 'makes no tick'
};
