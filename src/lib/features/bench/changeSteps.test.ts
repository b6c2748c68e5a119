import { describe, expect, test } from 'vitest';
import { applyStep, derivePlan, fernhollow } from '../../../core/plan/index.js';
import { deriveChanges } from '../../../core/predict/index.js';
import { addListStep, addRowStep, freshList, freshSteps, frequencySteps, listSentence } from './changeSteps.js';

const demo = fernhollow();

describe('lists of writes', () => {
	const plan = applyStep(demo, addListStep(demo, 'timer-d', 'Timer D'));
	const made = () => deriveChanges(derivePlan(plan))[0];

	test('a first row is what stands there, ten milliseconds in', () => {
		const after = applyStep(plan, addRowStep(plan, made(), 'row-1'));
		expect(after.changes[0].rows).toEqual([{ id: 'row-1', at: '10 ms', rate: '1.2 kHz', prescale: '', duties: { ch1: '35 %' } }]);
		const again = applyStep(after, addRowStep(after, deriveChanges(derivePlan(after))[0], 'row-2'));
		expect(again.changes[0].rows[1]).toMatchObject({ at: '20 ms', rate: '1.2 kHz' });
	});
	test('steps of frequency go evenly and keep the duty', () => {
		const { step, problems } = frequencySteps(plan, made(), { from: '1 kHz', to: '2 kHz', count: '4', apart: '2 ms' });
		expect(problems).toEqual({});
		const { rows } = applyStep(plan, step!).changes[0];
		expect(rows.map(({ at, rate, duties }) => [at, rate, duties.ch1])).toEqual([
			['2 ms', '1 kHz', '35 %'],
			['4 ms', '1333.333 Hz', '35 %'],
			['6 ms', '1666.667 Hz', '35 %'],
			['8 ms', '2 kHz', '35 %']
		]);
	});
	test('the helper begins at the timer’s own rate', () => {
		expect(freshSteps(plan, 'timer-d')).toMatchObject({ from: '1.2 kHz', to: '2.4 kHz' });
		const words = { ...plan, aims: plan.aims.map((aim) => (aim.id === 'heater-a' ? { ...aim, rate: 'slow' } : aim)) } as typeof plan;
		expect(freshSteps(words, 'timer-d')).toMatchObject({ from: '1 kHz', to: '2 kHz' });
	});
	test('a helper that cannot be read says which field', () => {
		const { step, problems } = frequencySteps(plan, made(), { from: 'slow', to: '2 kHz', count: '900', apart: '2' });
		expect(step).toBeUndefined();
		expect(Object.keys(problems).sort()).toEqual(['apart', 'count', 'from']);
	});
	test('the sentence asks only for what the pace needs', () => {
		const fields = (pace: 'times' | 'updates') =>
			listSentence({ ...freshList('w', 'timer-d'), pace }).flatMap((token) =>
				typeof token === 'object' && 'field' in token ? [token.field] : []
			);
		expect(fields('times')).toEqual(['apart']);
		expect(fields('updates')).toEqual(['every', 'lag', 'apart']);
	});
});
