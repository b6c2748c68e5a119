import { describe, expect, test } from 'vitest';
import { applyStep, invertStep, mendTwins, PlanError, readPlan, stepSchema, upgradeStep, type Step } from './index.js';
import plan1 from './fixtures/plan-1.json' with { type: 'json' };
import plan2 from './fixtures/plan-2.json' with { type: 'json' };
import plan3 from './fixtures/plan-3.json' with { type: 'json' };
import plan4 from './fixtures/plan-4.json' with { type: 'json' };
import plan5 from './fixtures/plan-5.json' with { type: 'json' };
import plan6 from './fixtures/plan-6.json' with { type: 'json' };
import plan7 from './fixtures/plan-7.json' with { type: 'json' };
import plan8 from './fixtures/plan-8.json' with { type: 'json' };

const FIXTURES: [string, { aims: object[]; part: object }][] = [
	['1', plan1],
	['2', plan2],
	['3', plan3],
	['4', plan4],
	['5', plan5],
	['6', plan6],
	['7', plan7],
	['8', plan8]
];

describe('a step that was stored before a migration', () => {
	test.each(FIXTURES)('of a document of version %s can be undone and done again after it', (_, old) => {
		const now = readPlan(old);
		const stored: Step[] = [
			...old.aims.map((aim, i): Step => ({ label: 'delete an aim', parts: [{ kind: 'remove', path: ['aims', i], value: aim as never }] })),
			{ label: 'another part', parts: [{ kind: 'set', path: ['part'], before: old.part as never, after: old.part as never }] },
			{ label: 'all aims', parts: [{ kind: 'set', path: ['aims'], before: old.aims as never, after: [] }] }
		];
		for (const step of stored) {
			const upgraded = upgradeStep(stepSchema.parse(step));
			expect(applyStep(applyStep(now, upgraded), invertStep(upgraded))).toEqual(now);
			// Bringing up what is up to date changes nothing.
			expect(upgradeStep(upgraded)).toEqual(upgraded);
		}
	});
});

describe('ids', () => {
	const twins = { ...plan4, aims: [plan4.aims[0], plan4.aims[0]] };
	test('that stand twice are refused with their place', () => {
		try {
			readPlan(twins);
			expect.unreachable();
		} catch (error) {
			expect((error as PlanError).findings).toMatchObject([{ code: 'id-twice', path: ['aims', 1, 'id'] }]);
		}
	});
	test('that a stored plan has twice are told apart, once', () => {
		const mended = readPlan(mendTwins(twins));
		expect(new Set(mended.aims.map(({ id }) => id)).size).toBe(2);
		expect(mendTwins(mended as never)).toEqual(mended);
	});
	test('a step cannot make twins', () => {
		const now = readPlan(plan4);
		const step: Step = { label: 'twin', parts: [{ kind: 'insert', path: ['aims', 0], value: now.aims[0] as never }] };
		expect(() => applyStep(now, step)).toThrow(PlanError);
	});
});
