import { expect, test } from 'vitest';
import { fernhollow, readPlan, type Plan } from '../plan/index.js';
import { markOf } from './index.js';

/** Every object's keys the other way round. */
function turned(value: unknown): unknown {
	if (Array.isArray(value)) return value.map(turned);
	if (value === null || typeof value !== 'object') return value;
	return Object.fromEntries(
		Object.entries(value)
			.reverse()
			.map(([key, one]) => [key, turned(one)])
	);
}

test('a state has one mark however it was stored, and another after any change', () => {
	const plan = fernhollow();
	expect(markOf(plan)).toMatch(/^[0-9a-f]{16}$/);
	expect(markOf(turned(plan) as Plan)).toBe(markOf(plan));
	expect(markOf(readPlan(JSON.parse(JSON.stringify(plan))))).toBe(markOf(plan));
	expect(markOf({ ...plan, name: `${plan.name}.` })).not.toBe(markOf(plan));
	expect(markOf({ ...plan, aims: [...plan.aims].reverse() })).not.toBe(markOf(plan));
});

test('revision and day stand before it, from the file or as they are told, and do not change it', () => {
	const made = { revision: 7, date: '2026-11-27' };
	const plan = fernhollow();
	expect(markOf({ ...plan, made })).toBe(`revision 7 of 2026-11-27, ${markOf(plan)}`);
	expect(markOf(plan, made)).toBe(markOf({ ...plan, made }));
});
