import { describe, expect, test } from 'vitest';
import { prescaleCode, ratiosOf, type Prescaler } from './index.js';

const ladder: Prescaler = {
	kind: 'ladder',
	steps: [
		{ ratio: 0, code: 0 },
		{ ratio: 8, code: 2 },
		{ ratio: 1, code: 1 },
		{ ratio: 64, code: 3 }
	]
};

describe('ratiosOf', () => {
	test('linear makes every ratio', () => expect([...ratiosOf({ kind: 'linear', max: 4 })]).toEqual([1, 2, 3, 4]));
	test('a ladder ascends and leaves out "stopped"', () => expect([...ratiosOf(ladder)]).toEqual([1, 8, 64]));
	test('a chain makes each product once', () => {
		const stage = (...ratios: number[]): Prescaler => ({ kind: 'ladder', steps: ratios.map((ratio, code) => ({ ratio, code })) });
		expect([...ratiosOf({ kind: 'chain', stages: [stage(1, 2, 4), stage(1, 2), { kind: 'fixed', ratio: 3 }] })]).toEqual([3, 6, 12, 24]);
	});
	test('a chain without bounds is refused', () => {
		expect(() =>
			ratiosOf({
				kind: 'chain',
				stages: [
					{ kind: 'linear', max: 65536 },
					{ kind: 'linear', max: 65536 }
				]
			})
		).toThrow(RangeError);
	});
});

test('prescaleCode tells what the register holds', () => {
	expect(prescaleCode({ kind: 'linear', max: 8 }, 8)).toBe(7);
	expect(prescaleCode({ kind: 'linear', max: 8 }, 9)).toBeUndefined();
	expect(prescaleCode(ladder, 64)).toBe(3);
	expect(prescaleCode(ladder, 3)).toBeUndefined();
	expect(prescaleCode({ kind: 'fixed', ratio: 12 }, 12)).toBeNull();
});
