import { describe, expect, test } from 'vitest';
import { fernhollow, newPlan, type SavedStep, setStep } from '../../core/plan/index.js';
import type { LeftEdits } from './left.js';
import { anewOn, restOf } from './left.js';
import { PlanSession } from './session.svelte.js';

const plan = newPlan('At first', fernhollow().part);
const step = (from: string, to: string, id?: string): SavedStep => ({
	kind: 'edit',
	merged: false,
	step: setStep({ ...plan, name: from }, ['name'], to, 'rename the plan'),
	...(id && { id })
});
const left: LeftEdits = { base: 4, steps: [step('At first', 'B', 'one'), step('B', 'C', 'two')], document: { ...plan, name: 'C' } };

describe('edits that a tab has left', () => {
	test('are all that the server does not have: what was stored though the tab never heard of it is known', () => {
		expect(restOf(left, { history: [] })).toEqual(left.steps);
		expect(restOf(left, { history: left.steps })).toEqual([]);
		expect(restOf(left, { history: left.steps.slice(0, 1) })).toEqual(left.steps.slice(1));
	});
	test('go on from what others did meanwhile, unless they clash with it or lead from elsewhere', () => {
		const steps = restOf(left, { history: [] });
		expect(anewOn(plan, steps, left)).toEqual(left.steps);
		expect(anewOn({ ...plan, note: 'theirs' }, steps, left)!.map(({ step }) => step.label)).toEqual(['rename the plan', 'rename the plan']);
		expect(anewOn({ ...plan, name: 'X' }, steps, left)).toBeUndefined();
		expect(anewOn(plan, steps, { ...left, document: { ...plan, name: 'elsewhere' } })).toBeUndefined();
	});
	test('can be done again, each undone by itself', () => {
		const session = new PlanSession({ id: 'p', revision: 4, savedOn: '2026-11-27', document: plan, history: [] });
		session.takeLeft(left.steps);
		expect([session.plan.name, session.unsaved]).toEqual(['C', true]);
		session.undo();
		expect(session.plan.name).toBe('B');
		// What does not fit changes nothing.
		expect(() => session.takeLeft([step('other', 'X')])).toThrow();
		expect(session.plan.name).toBe('B');
	});
});

describe('what is kept while the server does not have it', () => {
	test('is every edit so far, and nothing once all is saved', async () => {
		const kept: (LeftEdits | undefined)[] = [];
		const session = new PlanSession(
			{ id: 'p', revision: 4, savedOn: '2026-11-27', document: plan, history: [] },
			{ keep: (value) => kept.push(value) }
		);
		session.set(['name'], 'B', 'rename the plan');
		session.set(['name'], 'Be', 'rename the plan', true);
		expect(kept.at(-1)).toMatchObject({ base: 4, document: { name: 'Be' } });
		expect(kept.at(-1)!.steps).toHaveLength(1);
		const fetched = globalThis.fetch;
		const sent: { base: number; steps: SavedStep[] }[] = [];
		try {
			// The first answer is lost on its way.
			globalThis.fetch = (_, options) => {
				sent.push(JSON.parse(String(options?.body)) as (typeof sent)[number]);
				return sent.length === 1 ? Promise.reject(new TypeError('lost')) : Promise.resolve(Response.json({ revision: 6 }));
			};
			await session.flush();
			expect(session.save.kind).toBe('failed');
			// What was sent stays as it was: what is typed on is another step.
			session.set(['name'], 'Bee', 'rename the plan', true);
			await session.flush();
			expect(sent[1].steps.map(({ id }) => id)[0]).toBe(sent[0].steps[0].id);
			expect(sent[1].steps).toHaveLength(2);
			expect([session.revision, session.unsaved, kept.at(-1)]).toEqual([6, false, undefined]);
		} finally {
			globalThis.fetch = fetched;
		}
	});

	test('a text that could not be stored is cleaned before it is an edit', () => {
		const session = new PlanSession({ id: 'p', revision: 1, savedOn: '2026-11-27', document: plan, history: [] });
		session.set(['name'], 'a\0b\ud800', 'rename the plan');
		expect(session.plan.name).toBe('a\ufffdb\ufffd');
	});
});
