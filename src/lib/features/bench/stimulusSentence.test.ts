import { describe, expect, test } from 'vitest';
import { fernhollow } from '../../../core/plan/index.js';
import { freshStimulus } from '../../../core/predict/index.js';
import { changedStimulus, stimulusSentence } from './stimulusSentence.js';

const demo = fernhollow();

describe('what comes in', () => {
	const wind = demo.aims.find(({ id }) => id === 'wind')!;
	test.each(['square', 'sweep', 'contact', 'recorded'] as const)('every field of a %s has its place in the sentence', (kind) => {
		const stimulus = freshStimulus(wind, kind);
		const places = stimulusSentence(wind, stimulus, []).flatMap((token) =>
			typeof token === 'string' ? [] : 'field' in token ? [token.field] : [token.choice]
		);
		// A second line is an encoder's, and a log stands beside the readings.
		expect(places.sort()).toEqual(
			Object.keys(stimulus)
				.filter((key) => key !== 'second' && key !== 'log')
				.sort()
		);
	});
	test('another recording brings its first line', () => {
		const recording = { id: 'r', name: 'r.vcd', lines: [{ name: 'cups' }, { name: 'vane' }] } as unknown as Parameters<
			typeof stimulusSentence
		>[2][number];
		expect(changedStimulus(wind, freshStimulus(wind), 'kind', 'recorded', [recording])).toEqual({
			kind: 'recorded',
			recording: 'r',
			line: 'cups',
			second: 'vane',
			log: ''
		});
	});
});
