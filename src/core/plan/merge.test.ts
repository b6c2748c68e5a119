import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { beforeSteps, keepSame, mergePlans, rebaseSteps, stepBetween } from './merge.js';
import {
	applyStep,
	fernhollow,
	insertStep,
	joinSteps,
	moveStep,
	removeStep,
	setStep,
	type Plan,
	type SavedStep,
	type Step
} from './index.js';

const base = fernhollow();
const set = (plan: Plan, path: (string | number)[], value: never, label = 'set') => applyStep(plan, setStep(plan, path, value, label));
const rate = (plan: Plan, i: number, text: string) => set(plan, ['aims', i, 'rate'], text as never);
const edit = (step: Step, id = 'a-step-of-mine'): SavedStep => ({ kind: 'edit', merged: false, step, id });

/** One random edit of a plan: a field, an aim more, one less, or one elsewhere. */
const edits = fc.array(fc.record({ what: fc.nat(5), at: fc.nat(20), to: fc.nat(20), text: fc.constantFrom('8 kHz', '9 us', '1', 'x') }), {
	maxLength: 6
});
function edited(plan: Plan, list: { what: number; at: number; to: number; text: string }[], who: string): Plan {
	return list.reduce((doc, { what, at, to, text }, n) => {
		const i = doc.aims.length === 0 ? 0 : at % doc.aims.length;
		if (what === 0 || doc.aims.length === 0)
			return applyStep(doc, insertStep(['aims', at % (doc.aims.length + 1)], { ...base.aims[0], id: `${who}-${n}`, name: text }, 'add'));
		if (what === 1) return applyStep(doc, removeStep(doc, ['aims', i], 'delete'));
		if (what === 2) return applyStep(doc, moveStep(doc, i, to % doc.aims.length, doc.aims[i].group, 'move'));
		if (what === 3) return set(doc, ['clock', `node-${to % 3}`], text as never);
		return set(doc, what === 4 ? ['note'] : ['aims', i, 'name'], text as never);
	}, plan);
}

describe('two that went on from one plan', () => {
	test('are brought together where they touched different places, also of one aim, and of aims that moved', () => {
		const mine = rate(set(base, ['name'], 'Mine' as never), 1, '9 kHz');
		const theirs = applyStep(set(base, ['aims', 1, 'name'], 'theirs' as never), moveStep(base, 0, 2, base.aims[0].group, 'move'));
		const { document, clashes } = mergePlans(base, mine, theirs);
		expect(clashes).toEqual([]);
		expect(document.aims.map(({ id }) => id)).toEqual(theirs.aims.map(({ id }) => id));
		expect([document.name, document.aims.find(({ id }) => id === base.aims[1].id)]).toEqual([
			'Mine',
			{ ...base.aims[1], name: 'theirs', rate: '9 kHz' }
		]);
	});

	test('clash where both changed one place, and what is chosen is taken', () => {
		const [mine, theirs] = [rate(base, 0, '2 kHz'), rate(base, 0, '3 kHz')];
		const { document, clashes } = mergePlans(base, mine, theirs);
		expect(clashes).toEqual([{ path: ['aims', base.aims[0].id, 'rate'], base: '1.2 kHz', mine: '2 kHz', theirs: '3 kHz' }]);
		expect(document).toEqual(theirs);
		expect(mergePlans(base, mine, theirs, ['mine']).document).toEqual(mine);
	});

	test('clash where one took out what the other changed; one that was only taken out is gone', () => {
		const without = applyStep(base, removeStep(base, ['aims', 0], 'delete'));
		expect(mergePlans(base, without, rate(base, 0, '2 kHz')).clashes).toMatchObject([{ path: ['aims', base.aims[0].id], mine: undefined }]);
		expect(mergePlans(base, without, rate(base, 1, '2 kHz'))).toMatchObject({
			clashes: [],
			document: { aims: { length: base.aims.length - 1 } }
		});
	});

	test('clash where an aim became another kind, as a whole, and where both put a list in order', () => {
		const other = set(base, ['aims', 0], { ...base.aims[1], id: base.aims[0].id } as never);
		expect(mergePlans(base, other, rate(base, 0, '2 kHz')).clashes.map(({ path }) => path)).toEqual([['aims', base.aims[0].id]]);
		const [mine, theirs] = [moveStep(base, 0, 2, base.aims[0].group, ''), moveStep(base, 3, 1, base.aims[3].group, '')].map((s) =>
			applyStep(base, s)
		);
		const { clashes, document } = mergePlans(base, mine, theirs, ['mine']);
		expect([clashes.length, clashes[0].order, document.aims]).toEqual([1, true, mine.aims]);
	});

	test('whatever they did: what only one did is there, in either order of asking, and every clash names two values', () => {
		fc.assert(
			fc.property(edits, edits, (a, b) => {
				const [mine, theirs] = [edited(base, a, 'mine'), edited(base, b, 'theirs')];
				expect(mergePlans(base, mine, base).document).toEqual(mine);
				expect(mergePlans(base, base, theirs).document).toEqual(theirs);
				const [one, other] = [mergePlans(base, mine, theirs), mergePlans(base, theirs, mine)];
				expect(one.clashes.map(({ path }) => path.join('/')).sort()).toEqual(other.clashes.map(({ path }) => path.join('/')).sort());
				for (const clash of one.clashes) expect(clash.mine).not.toEqual(clash.theirs);
				const ids = (plan: Plan) => plan.aims.map(({ id }) => id).sort();
				if (one.clashes.length === 0) expect(ids(one.document)).toEqual(ids(other.document));
				for (const { id } of mine.aims) if (id.startsWith('mine')) expect(ids(one.document)).toContain(id);
				for (const { id } of theirs.aims) if (id.startsWith('theirs')) expect(ids(one.document)).toContain(id);
				// The step from one to another leads there, and shares what is the same.
				const step = stepBetween(theirs, one.document, 'both');
				expect(step ? applyStep(theirs, step) : theirs).toEqual(one.document);
				const same = keepSame(theirs, structuredClone(one.document));
				expect(same).toEqual(one.document);
				expect(same.part).toBe(theirs.part);
			}),
			{ numRuns: 150 }
		);
	});
});

describe('steps made on an older revision', () => {
	test('are made anew on the newer, each by itself', () => {
		const theirs = applyStep(base, removeStep(base, ['aims', 0], 'delete'));
		const first = setStep(base, ['aims', 1, 'rate'], '9 kHz', 'set the rate');
		const second = setStep(applyStep(base, first), ['note'], 'mine', 'note');
		const done = rebaseSteps(base, [edit(first), edit(second)], theirs)!;
		expect(done.steps.map(({ step, id }) => [step.label, step.parts[0].path, id])).toEqual([
			['set the rate', ['aims', 0, 'rate'], 'a-step-of-mine'],
			['note', ['note'], 'a-step-of-mine']
		]);
		expect(done.steps.reduce((doc, { step }) => applyStep(doc, step), theirs)).toEqual(done.document);
		expect(beforeSteps(applyStep(applyStep(base, first), second), [edit(first), edit(second)])).toEqual(base);
	});

	test('that the other made too come to nothing; those that clash are not made', () => {
		const step = setStep(base, ['name'], 'Same', 'rename');
		expect(rebaseSteps(base, [edit(step)], applyStep(base, step))!.steps).toEqual([]);
		expect(rebaseSteps(base, [edit(step)], set(base, ['name'], 'Other' as never))).toBeUndefined();
	});

	test('that change very much are one step of few parts', () => {
		const aims = Array.from({ length: 600 }, (_, i) => ({ ...base.aims[0], id: `aim-${i}` }));
		const many = { ...base, aims };
		const renamed = { ...many, aims: aims.map((aim) => ({ ...aim, name: 'x' })) };
		const step = stepBetween(many, renamed, 'rename all')!;
		expect([step.parts.length, applyStep(many, step)]).toEqual([1, renamed]);
		expect(joinSteps('', [step]).parts[0].path).toEqual(['aims']);
	});
});
