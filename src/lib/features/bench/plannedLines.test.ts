import { expect, test } from 'vitest';
import { Rational } from '../../../core/exact/index.js';
import { StretchedTrace } from '../../../core/trace/index.js';
import { plannedLines } from './plannedLines.js';
import type { PredictedLane } from './prediction.svelte.js';

const trace = new StretchedTrace(Rational.one, 0, Float64Array.of(1, 2), []);
const lane = (change: Partial<PredictedLane>): PredictedLane => ({
	aim: 'a',
	role: 'pin',
	detail: false,
	unit: Rational.one,
	drawn: { kind: 'level', trace },
	...change
});

test('the lines of an aim are its levels that are not details, each role once', () => {
	const lanes = [
		lane({ role: 'main' }),
		lane({ role: 'main', outcome: 'immediate', whatIf: true }),
		lane({ role: 'main', outcome: 'buffered' }),
		lane({ role: 'complementary' }),
		lane({ role: 'reference', detail: true }),
		lane({ role: 'events', drawn: { kind: 'events', sets: [], busy: 0 } }),
		lane({ aim: 'other' })
	];
	expect(plannedLines(lanes, 'a').map(({ role }) => role)).toEqual(['main', 'complementary']);
	expect(plannedLines(lanes, 'none')).toEqual([]);
});
