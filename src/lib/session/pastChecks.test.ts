import { describe, expect, test } from 'vitest';
import { changedSince, sameCheck, type CheckTold } from './pastChecks.js';

const told = (...aims: [string, 'within' | 'outside' | 'undecided'][]): CheckTold => ({
	verdict: 'within',
	asSet: 'within',
	aims: aims.map(([id, verdict]) => ({ id, name: `aim ${id}`, verdict, asSet: verdict })),
	suspects: [],
	recordings: []
});

describe('two checks', () => {
	test('differ in the aims whose verdict is another, and in those that are new', () => {
		const changed = changedSince(told(['a', 'within'], ['b', 'outside'], ['c', 'within']), told(['a', 'within'], ['b', 'within']));
		expect(changed).toEqual([
			{ name: 'aim b', from: 'within', to: 'outside' },
			{ name: 'aim c', from: undefined, to: 'within' }
		]);
	});
	test('are the same when made from the same with the same outcome, in whatever order it was stored', () => {
		expect(
			sameCheck(told(['a', 'within']), Object.fromEntries(Object.entries(told(['a', 'within'])).reverse()) as unknown as CheckTold)
		).toBe(true);
		expect(sameCheck(told(['a', 'within']), { ...told(['a', 'within']), recordings: [{ id: 'r', name: 'r', generation: 1 }] })).toBe(false);
	});
});
