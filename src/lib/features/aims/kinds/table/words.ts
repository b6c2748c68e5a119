import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'shape on a carrier',
	begin: 'table',
	offer: 'a shape on a carrier (table)',
	cannot: 'drives no pulses'
};
