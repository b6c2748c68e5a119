import { expect, test } from 'vitest';
import { ordinal } from '../text/index.js';
import { cyclesWord } from './tokens.js';

test.each([
	[1, 'single'],
	[2, '2nd'],
	[3, '3rd'],
	[8, '8th'],
	[12, '12th'],
	[21, '21st']
])('every %dth edge is called every %s', (k, text) => {
	expect(ordinal(k)).toBe(text);
});

test.each([
	['120', 'core cycles'],
	['0x1F', 'core cycles'],
	['2 us', ''],
	['', 'core cycles']
])('behind "%s" stands "%s"', (typed, word) => {
	expect(cyclesWord(typed)).toBe(word);
});
