import { expect, test } from 'vitest';
import { fernhollow, PlanError } from '../../../core/plan/index.js';
import { readStored } from './read.js';

test('the same text is read once; another one is another plan', () => {
	const text = JSON.stringify(fernhollow());
	const plan = readStored(text);
	expect(readStored(text)).toBe(plan);
	expect(readStored(text.replace(plan.name, 'Another')).name).toBe('Another');
	for (let i = 0; i < 20; i++) readStored(text.replace(plan.name, String(i)));
	expect(readStored(text)).not.toBe(plan);
	expect(readStored(text)).toEqual(plan);
});

test('a text that is no plan is refused each time', () => {
	for (let i = 0; i < 2; i++) expect(() => readStored('{"version":99}')).toThrow(PlanError);
});
