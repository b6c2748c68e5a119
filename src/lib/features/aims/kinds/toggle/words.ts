import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'toggled clock',
	begin: 'toggle',
	offer: 'a clock by toggling',
	cannot: 'has no output that toggles once a period'
};
