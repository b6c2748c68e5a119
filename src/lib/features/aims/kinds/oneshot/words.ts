import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'one-shot',
	begin: 'one-shot',
	offer: 'a pulse after a trigger',
	cannot: 'makes no one-shots counting up'
};
