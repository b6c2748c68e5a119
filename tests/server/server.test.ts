import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { z } from 'zod';
import { fernhollow, invertStep, newPlan, setStep, StepMismatch, type Plan, type SavedStep, type Step } from '../../src/core/plan/index.js';
import { shippedParts } from '../../src/core/part/index.js';
import { answering, OURS } from '../../src/lib/server/http/answers.js';
import { readBody } from '../../src/lib/server/http/body.js';
import { createPart, listParts, loadPart, savePart, setPartDeleted, usableParts } from '../../src/lib/server/parts/parts.js';
import oldPlan from '../../src/core/plan/fixtures/plan-4.json' with { type: 'json' };
import { bringUpPlans } from '../../src/lib/server/plans/bringUp.js';
import { layInDemo } from '../../src/lib/server/plans/demo.js';
import { keepCheck } from '../../src/lib/server/checks/checks.js';
import { createPlan, listPlans, loadPlan, saveSteps, setPlanDeleted, setVerdict } from '../../src/lib/server/plans/plans.js';
import { summarise } from '../../src/lib/server/plans/summary.js';
import { reasonOf } from '../../src/lib/server/store/trouble.js';
import { closeDatabase, db, migrateDatabase } from '../../src/lib/server/store/db.js';
import { revisions } from '../../src/lib/server/store/tables.js';
import { StaleRevision } from '../../src/lib/server/store/revision.js';

beforeAll(async () => {
	process.env.DATABASE_URL = inject('database');
	await migrateDatabase();
});
afterAll(closeDatabase);

const edit = (plan: Plan, name: string): SavedStep => ({ kind: 'edit', merged: false, step: setStep(plan, ['name'], name, 'rename') });
const listed = async (id: string) => (await listPlans()).find((row) => row.id === id);
const UNKNOWN = '00000000-0000-4000-8000-000000000000';

describe('the schema', () => {
	test('is brought up to date once; a second time changes nothing', async () => {
		await expect(migrateDatabase()).resolves.toBeUndefined();
	});
});

describe('plans', () => {
	const plan = newPlan('Test board', shippedParts()[0]);

	test('of an older format are brought up with their steps, and what was deleted before can be brought back', async () => {
		const id = await createPlan({ ...oldPlan, aims: oldPlan.aims.slice(1) } as never);
		const step = { label: 'delete an aim', parts: [{ kind: 'remove', path: ['aims', 0], value: oldPlan.aims[0] }] } as unknown as Step;
		await db().insert(revisions).values({ planId: id, number: 1, kind: 'edit', merged: 0, step });
		const broken = await createPlan({ version: 4 } as never);
		await bringUpPlans();
		const loaded = (await loadPlan(id))!;
		await saveSteps(id, 1, [{ kind: 'undo', merged: false, step: invertStep(loaded.history[0].step) }]);
		expect((await loadPlan(id))!.document.aims.map(({ id: aim }) => aim)).toEqual(oldPlan.aims.map(({ id: aim }) => aim));
		// A plan that cannot be read is listed as such, beside the others.
		await expect.poll(() => listed(broken)).toMatchObject({ unreadable: expect.any(String) as string });
		await expect.poll(() => listed(id)).toMatchObject({ aims: oldPlan.aims.length });
	});

	test('steps move the revision on, and are there for undo after loading', async () => {
		const id = await createPlan(plan);
		expect(await saveSteps(id, 1, [edit(plan, 'One'), edit({ ...plan, name: 'One' }, 'Two')])).toMatchObject({ revision: 3 });
		const loaded = (await loadPlan(id))!;
		expect([loaded.revision, loaded.document.name, loaded.history.length]).toEqual([3, 'Two', 2]);
	});

	test('steps for an older revision are refused, and none of several is kept when one does not fit', async () => {
		const id = await createPlan(plan);
		await expect(saveSteps(id, 5, [edit(plan, 'Late')])).rejects.toBeInstanceOf(StaleRevision);
		await expect(saveSteps(id, 1, [edit(plan, 'Fits'), edit(plan, 'Does not')])).rejects.toBeInstanceOf(StepMismatch);
		expect((await loadPlan(id))!.document.name).toBe('Test board');
	});

	test('steps that are sent again because their answer was lost are stored once; others on the same revision are refused', async () => {
		const id = await createPlan(plan);
		const sent = ['One', 'Two', 'Three'].map((name, i, all) => ({
			...edit({ ...plan, name: all[i - 1] ?? plan.name }, name),
			id: `step-${i}-of-it`
		}));
		expect(await saveSteps(id, 1, sent.slice(0, 2))).toMatchObject({ revision: 3 });
		expect(await saveSteps(id, 1, sent.slice(0, 2))).toMatchObject({ revision: 3 });
		// What was typed meanwhile goes on from there.
		expect(await saveSteps(id, 1, sent)).toMatchObject({ revision: 4 });
		const loaded = (await loadPlan(id))!;
		expect([loaded.document.name, loaded.history.length]).toEqual(['Three', 3]);
		await expect(saveSteps(id, 1, [{ ...edit(plan, 'Other'), id: 'step-of-another' }])).rejects.toBeInstanceOf(StaleRevision);
		await expect(saveSteps(id, 1, [edit(plan, 'Nameless')])).rejects.toBeInstanceOf(StaleRevision);
	});

	test('a list is not held up for long by what was not worked out yet; it comes by and by', async () => {
		const ids = await Promise.all(Array.from({ length: 60 }, () => createPlan({ ...fernhollow(), name: 'One of many' })));
		const made = async () => (await listPlans()).filter(({ id }) => ids.includes(id));
		const first = await made();
		expect(first.every(({ name }) => name === 'One of many')).toBe(true);
		await expect
			.poll(async () => (await made()).every(({ pending, aims }) => !pending && aims === fernhollow().aims.length), { timeout: 30_000 })
			.toBe(true);
		await Promise.all(ids.map((id) => setPlanDeleted(id, true)));
	});

	test('of two writers at once one is told to look again', async () => {
		const id = await createPlan(plan);
		const both = await Promise.allSettled([saveSteps(id, 1, [edit(plan, 'A')]), saveSteps(id, 1, [edit(plan, 'B')])]);
		expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
	});

	test('one that was put away is not listed, but can be brought back', async () => {
		const id = await createPlan(plan);
		const isListed = async () => (await listed(id)) !== undefined;
		expect(await setPlanDeleted(id, true)).toBe(true);
		expect([await isListed(), (await loadPlan(id))?.id]).toEqual([false, id]);
		await setPlanDeleted(id, false);
		expect(await isListed()).toBe(true);
	});

	test('an unknown one is none, whatever is asked of it', async () => {
		expect(await loadPlan(UNKNOWN)).toBeUndefined();
		expect(await saveSteps(UNKNOWN, 1, [edit(plan, 'x')])).toBeUndefined();
		expect(await setPlanDeleted(UNKNOWN, true)).toBe(false);
	});

	test('a summary counts what a derivation finds, and tells the last verdict', async () => {
		const id = await createPlan(fernhollow());
		await setVerdict(id, { outcome: 'within', aim: 'a', recording: 'r', revision: 1 });
		await expect.poll(async () => (await listed(id))!.pending).toBe(false);
		const summary = (await listed(id))!;
		expect(summary).toMatchObject({ aims: fernhollow().aims.length, faults: 0, verdict: { outcome: 'within' } });
		expect(summary.wave!.edges.length).toBeGreaterThan(0);
		expect((await summarise(UNKNOWN, '{"version":99}')).unreadable).toBeTruthy();
	});

	test('the verdict on a whole plan is not overruled by one on a single line', async () => {
		const id = await createPlan(fernhollow());
		const single = { outcome: 'within' as const, aim: 'dew heater A', recording: 'right.vcd', revision: 1 };
		const aims = [
			{ id: 'heater-a', name: 'dew heater A', verdict: 'within' as const, asSet: 'within' as const },
			...['B', 'C'].map((name) => ({
				id: `heater-${name}`,
				name: `dew heater ${name}`,
				verdict: 'outside' as const,
				asSet: 'outside' as const
			}))
		];
		const recordings = ['a.vcd', 'b.vcd'].map((name) => ({ id: name, name, generation: 1 }));
		const told = { verdict: 'outside' as const, asSet: 'outside' as const, aims, recordings, suspects: [] };
		expect(await setVerdict(id, single)).toBe(true);
		expect((await listed(id))!.verdict).toEqual(single);
		const whole = { outcome: 'outside', aim: 'dew heater B', more: 1, recording: '', revision: 1 };
		for (const after of [single, single]) {
			expect(await keepCheck(id, 1, told)).toBe(true);
			expect((await listed(id))!.verdict).toEqual(whole);
			expect(await setVerdict(id, after)).toBe(true);
			expect((await listed(id))!.verdict).toEqual(whole);
		}
		expect(await setVerdict(UNKNOWN, single)).toBe(false);
	});

	test('the demo is laid in once', async () => {
		await layInDemo();
		const count = (await listPlans()).length;
		await layInDemo();
		expect((await listPlans()).length).toBe(count);
	});
});

describe('parts', () => {
	test('any text is kept; only a sound one can be planned with', async () => {
		const [sound, unsound] = [await createPart(JSON.stringify(shippedParts()[0])), await createPart('{ half')];
		const usable = (await usableParts()).map(({ key }) => key);
		expect([usable.includes(sound), usable.includes(unsound)]).toEqual([true, false]);
		expect((await listParts()).find(({ key }) => key === unsound)!.findings).toBeGreaterThan(0);
		expect((await loadPart(unsound))!.text).toBe('{ half');
	});

	test('a newer text goes over the revision it was made from, and over no other', async () => {
		const key = await createPart('{}');
		expect(await savePart(key, 1, '{"id":"a"}')).toBe(2);
		// The same again: its answer was lost.
		expect(await savePart(key, 1, '{"id":"a"}')).toBe(2);
		await expect(savePart(key, 1, '{"id":"b"}')).rejects.toBeInstanceOf(StaleRevision);
		expect(await savePart(UNKNOWN, 1, '{}')).toBeUndefined();
		expect(await setPartDeleted(key, true)).toBe(true);
		expect((await listParts()).some((part) => part.key === key)).toBe(false);
	});
});

describe('answers', () => {
	const body = async (response: Promise<Response>) => {
		const answer = await response;
		return { status: answer.status, ...((await answer.json()) as object) };
	};

	test('what a caller caused is told with what would be accepted', async () => {
		const post = (text: string) => new Request('http://127.0.0.1/', { method: 'POST', body: text });
		const read = (text: string) => answering(async () => Response.json(await readBody(post(text), z.object({ a: z.number() }))));
		expect(await body(read('{"a":1}'))).toEqual({ status: 200, a: 1 });
		expect((await body(read('{"a":"x"}'))).status).toBe(400);
		expect(await body(read('{'))).toMatchObject({ status: 400, message: 'the body is no JSON' });
		expect(await body(answering(() => Promise.reject(new StaleRevision(7))))).toMatchObject({ status: 409, revision: 7 });
	});

	test('what is ours is told with an id, and without what was sent', async () => {
		const answer = await body(answering(() => Promise.reject(new Error('ours', { cause: new Error('secret document') }))));
		expect(answer).toEqual({ status: 500, message: OURS, id: expect.stringMatching(/^[0-9a-f]{8}$/) as string });
		// A query's error holds what was sent among its parameters.
		expect(
			JSON.stringify(reasonOf(new Error('Failed query: insert .. params: secret', { cause: new Error('no such column') })))
		).not.toContain('secret');
	});

	test.each<[string, string, number, string]>([
		['a NUL', '{"a":"x\\u0000"}', 400, 'a holds a NUL'],
		['half a character', '{"b":{"c":["\\ud83d"]}}', 400, 'b.c.0 holds'],
		['half a character in a name', '{"\\udc00":1}', 400, 'holds'],
		['deep nesting', `${'['.repeat(65)}${']'.repeat(65)}`, 400, 'nested too deep'],
		['brackets in a text', JSON.stringify({ a: '['.repeat(1000) }), 200, ''],
		['a whole character of two units', '{"a":"\\ud83d\\ude00"}', 200, ''],
		['more than is taken', JSON.stringify({ a: 'x'.repeat(2000) }), 413, 'too large'],
		['far more than is taken', JSON.stringify({ a: 'x'.repeat(9000) }), 413, 'too large']
	])('a body with %s', async (_, text, status, says) => {
		const request = new Request('http://127.0.0.1/', { method: 'POST', body: text });
		const answer = await answering(async () => Response.json(await readBody(request, z.unknown(), 1500)));
		expect([answer.status, await answer.text()]).toEqual([status, expect.stringContaining(says)]);
	});

	test.each<[string, unknown, boolean]>([
		['a connection that was cut', new Error('Failed query', { cause: Object.assign(new Error('x'), { code: '57P01' }) }), true],
		['a pool without a free one', new Error('timeout exceeded when trying to connect'), true],
		['a full disk', Object.assign(new Error('no space'), { code: '53100' }), true],
		['a wrong query', Object.assign(new Error('x'), { code: '42703' }), false]
	])('%s', async (_, error, later) => {
		expect((await answering(() => Promise.reject(error as Error))).status).toBe(later ? 503 : 500);
	});
});
