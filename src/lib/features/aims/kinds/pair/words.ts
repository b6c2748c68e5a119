import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'complementary pair',
	begin: 'pair',
	offer: 'a complementary pair with dead time',
	cannot: 'has no complementary outputs'
};
