import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'encoder',
	begin: 'encoder',
	offer: 'an encoder to count',
	cannot: 'cannot count a quadrature encoder this way'
};
