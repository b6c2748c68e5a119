import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'pattern',
	begin: 'pattern',
	offer: 'a pattern of words to a port',
	cannot: 'counts no periods to pace words with'
};
