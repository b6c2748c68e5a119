import type { KindWords } from '../words.js';

export const words: KindWords = {
	name: 'follower',
	begin: 'follower',
	offer: 'a follower of another aim',
	cannot: 'cannot be triggered'
};
