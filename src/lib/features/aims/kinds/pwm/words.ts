import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'pulse train',
	begin: 'signal',
	offer: 'a pulse train (PWM)',
	cannot: 'drives no pulses'
};
