import fc from 'fast-check';
import firstPlan from './fixtures/plan-1.json' with { type: 'json' };
import { describe, expect, test } from 'vitest';
import { freshAim } from '../aims/index.js';
import {
	applyStep,
	fernhollow,
	insertStep,
	invertStep,
	joinSteps,
	mergeSteps,
	NO_HISTORY,
	PLAN_VERSION,
	PlanError,
	readPlan,
	recordStep,
	redoStep,
	removeStep,
	setStep,
	StepMismatch,
	stepSchema,
	undoStep,
	type History,
	type Plan,
	type Step
} from './index.js';

const plan = { ...fernhollow(), aims: fernhollow().aims.slice(0, 1) };
const aim = (n: number) => freshAim('pwm', `aim-${n}`, `signal ${n}`, 'timer-a', { channel: 'ch2' });

/** A random sensible edit of whatever plan it meets. */
const edit = fc.record({
	what: fc.integer({ min: 0, max: 6 }),
	n: fc.nat(50),
	text: fc.string({ maxLength: 8 }).map((s) => s.replaceAll('\0', ''))
});

function stepFor(doc: Plan, { what, n, text }: { what: number; n: number; text: string }): Step {
	const at = doc.aims.length === 0 ? 0 : n % doc.aims.length;
	if (what === 0 || doc.aims.length === 0) return insertStep(['aims', n % (doc.aims.length + 1)], aim(n), 'add');
	if (what === 1) return removeStep(doc, ['aims', at], 'delete');
	if (what === 2) return setStep(doc, ['aims', at, 'rate'], text, 'rate');
	if (what === 3) return setStep(doc, ['clock', 'crystal'], n % 2 ? text : undefined, 'crystal');
	if (what === 4) return setStep(doc, ['aims', at, 'locks', 'prescale'], n % 2 ? text : undefined, 'lock');
	if (what === 5) return { label: 'move', parts: [{ kind: 'move', path: ['aims'], from: at, to: (at + n) % doc.aims.length }] };
	return joinSteps('both', [setStep(doc, ['name'], text, ''), setStep(doc, ['note'], text, '')]);
}

describe('steps', () => {
	test('apply, then invert, is what was before; through JSON too (seed 51)', () => {
		fc.assert(
			fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
				let doc = plan;
				const done: { before: Plan; step: Step }[] = [];
				for (const e of edits) {
					const step = stepSchema.parse(JSON.parse(JSON.stringify(stepFor(doc, e))));
					done.push({ before: doc, step });
					doc = applyStep(doc, step);
				}
				for (const { before, step } of done.reverse()) {
					doc = applyStep(doc, invertStep(step));
					expect(doc).toEqual(before);
				}
			}),
			{ seed: 51, numRuns: 200 }
		);
	});

	test('the document that was given is never changed', () => {
		const frozen = JSON.stringify(plan);
		applyStep(plan, setStep(plan, ['aims', 0, 'rate'], '850 us', ''));
		applyStep(plan, removeStep(plan, ['aims', 0], ''));
		expect(JSON.stringify(plan)).toBe(frozen);
	});

	test('a step meets only the document it was made for', () => {
		const step = setStep(plan, ['aims', 0, 'rate'], '850 us', '');
		const moved = applyStep(plan, step);
		expect(() => applyStep(moved, step)).toThrow(StepMismatch);
		expect(() => applyStep(moved, removeStep(plan, ['aims', 0], ''))).toThrow(StepMismatch);
		expect(() => applyStep(plan, insertStep(['aims', 5], aim(1), ''))).toThrow('no-place aims.5');
		expect(() => removeStep(plan, ['aims', 9], '')).toThrow(StepMismatch);
	});

	test('a step that would leave no plan is refused with the place', () => {
		expect(() => applyStep(plan, setStep(plan, ['aims', 0, 'polarity'], 'sideways', ''))).toThrow(PlanError);
		expect(() => applyStep(plan, setStep(plan, ['aims', 0, 'rate'], 5, ''))).toThrow('aims.0.rate');
		expect(() => applyStep(plan, setStep(plan, ['name'], 'a\0b', ''))).toThrow('name');
	});

	test('a key of the prototype is no place', () => {
		expect(() => applyStep(plan, setStep(plan, ['__proto__', 'x'], 1, ''))).toThrow();
		expect(({} as Record<string, unknown>).x).toBeUndefined();
	});

	test('two sets of one place merge into what both do; others do not', () => {
		const first = setStep(plan, ['aims', 0, 'rate'], '8', 'rate');
		const middle = applyStep(plan, first);
		const second = setStep(middle, ['aims', 0, 'rate'], '850 us', 'rate');
		const merged = mergeSteps(first, second)!;
		expect(applyStep(plan, merged)).toEqual(applyStep(middle, second));
		expect(applyStep(applyStep(plan, merged), invertStep(merged))).toEqual(plan);
		expect(mergeSteps(first, setStep(middle, ['aims', 0, 'duty'], '1 %', ''))).toBeUndefined();
		expect(mergeSteps(first, insertStep(['aims', 0], aim(1), ''))).toBeUndefined();
	});
});

describe('history', () => {
	test('any row of edits, undos and redos keeps document and history in step (seed 52)', () => {
		const action = fc.oneof(edit, fc.constant('undo' as const), fc.constant('redo' as const));
		fc.assert(
			fc.property(fc.array(action, { maxLength: 30 }), (actions) => {
				let doc = plan;
				let history: History = NO_HISTORY;
				/** The slow twin: all documents that were, and where one stands. */
				let past: Plan[] = [plan];
				let at = 0;
				for (const what of actions) {
					if (what === 'undo' || what === 'redo') {
						const step = what === 'undo' ? undoStep(history) : redoStep(history);
						expect(step !== undefined).toBe(what === 'undo' ? at > 0 : at < past.length - 1);
						if (!step) continue;
						doc = applyStep(doc, step);
						history = recordStep(history, what, step);
						at += what === 'undo' ? -1 : 1;
					} else {
						const step = stepFor(doc, what);
						doc = applyStep(doc, step);
						history = recordStep(history, 'edit', step);
						past = [...past.slice(0, at + 1), doc];
						at++;
					}
					expect(doc).toEqual(past[at]);
				}
			}),
			{ seed: 52, numRuns: 200 }
		);
	});

	test('typing in one field is one thing to undo', () => {
		let doc = plan;
		let history: History = NO_HISTORY;
		for (const [i, text] of ['8', '85', '850', '850 us'].entries()) {
			const step = setStep(doc, ['aims', 0, 'rate'], text, 'rate');
			doc = applyStep(doc, step);
			history = recordStep(history, 'edit', step, i > 0);
		}
		expect(history.undo.length).toBe(1);
		expect(applyStep(doc, undoStep(history)!)).toEqual(plan);
	});
});

describe('readPlan', () => {
	test('brings a plan of version 1 up to date, part and all', () => {
		const { version, part, ...rest } = readPlan(firstPlan);
		expect(version).toBe(PLAN_VERSION);
		expect(rest).toMatchObject({ clock: firstPlan.clock, aims: firstPlan.aims, labels: {}, wishes: [], held: [] });
		expect(part.timers[0].channels[1].outputs).toEqual([{ model: 'level', sense: 'below' }]);
		expect(part.pins?.[1]).toEqual({ id: 'pin-2', name: 'pin 18', functions: ['timer-a.ch2'] });
	});
	test('reads what it wrote', () => expect(readPlan(JSON.parse(JSON.stringify(plan)))).toEqual(plan));
	test.each([
		[null, 'version'],
		[{ version: 0 }, 'version'],
		[{ ...plan, version: PLAN_VERSION + 1 }, 'version-newer'],
		[{ ...plan, aims: [{ ...plan.aims[0], rate: 5 }] }, 'aims.0.rate'],
		[{ ...plan, part: { ...plan.part, timers: 'many' } }, 'part.timers']
	])('refuses %#', (raw, want) => expect(() => readPlan(raw)).toThrow(want));
	test('tells all findings at once', () => {
		try {
			readPlan({ ...plan, name: 5, note: 5 });
			expect.unreachable();
		} catch (error) {
			expect((error as PlanError).findings.map((f) => f.path)).toEqual([['name'], ['note']]);
		}
	});
});
