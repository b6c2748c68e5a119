import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'divided pulses',
	begin: 'divided',
	offer: 'pulses divided in software',
	cannot: 'makes no tick'
};
