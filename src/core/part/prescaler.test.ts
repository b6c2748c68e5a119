import { describe, expect, test } from 'vitest';
import { prescaleCode, ratiosOf, stagesFor, type Prescaler } from './index.js';

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
	test.each<[string, Prescaler, number]>([
		['a linear one of 2^24', { kind: 'linear', max: 2 ** 24 }, 2 ** 24],
		['one of 2^32', { kind: 'linear', max: 2 ** 32 }, 2 ** 32],
		[
			'a chain of 2^32 products',
			{
				kind: 'chain',
				stages: [
					{ kind: 'linear', max: 65536 },
					{ kind: 'linear', max: 65536 }
				]
			},
			2 ** 32
		]
	])('%s is thinned out, from 1 to its last, and no step is wide', (_, prescaler, last) => {
		const ratios = ratiosOf(prescaler);
		expect([ratios.length <= 2 ** 20, ratios[0], ratios.at(-1)]).toEqual([true, 1, last]);
		const widest = ratios.reduce((most, ratio, i) => (i === 0 ? most : Math.max(most, ratio / ratios[i - 1])), 1);
		expect(widest).toBeLessThanOrEqual(2);
		for (const ratio of [ratios[1000], ratios[70_000], last]) expect(prescaleCode(prescaler, ratio)).not.toBeUndefined();
	});
});

test('prescaleCode tells what the register holds', () => {
	expect(prescaleCode({ kind: 'linear', max: 8 }, 8)).toBe(7);
	expect(prescaleCode({ kind: 'linear', max: 8 }, 9)).toBeUndefined();
	expect(prescaleCode(ladder, 64)).toBe(3);
	expect(prescaleCode(ladder, 3)).toBeUndefined();
	expect(prescaleCode({ kind: 'fixed', ratio: 12 }, 12)).toBeNull();
});

describe('stagesFor', () => {
	const chain: Prescaler = { kind: 'chain', stages: [ladder, { kind: 'fixed', ratio: 3 }, { kind: 'linear', max: 32 }] };
	test('sets each stage of a chain, the first as small as can be', () => {
		// 1 x 3 x 30, though 8 x 3 makes 24 of 120, too: 40 is past the last stage's 32.
		expect(stagesFor(chain, 90)).toMatchObject([{ ratio: 1 }, { ratio: 3, code: null }, { ratio: 30, code: 29, width: 5 }]);
		expect(stagesFor(chain, 120)).toMatchObject([
			{ ratio: 8, code: 2, width: 2 },
			{ ratio: 3, code: null },
			{ ratio: 5, code: 4, width: 5 }
		]);
		expect(stagesFor(chain, 7)).toBeUndefined();
	});
	test('makes every ratio that the chain has', () => {
		for (const ratio of ratiosOf(chain)) expect(stagesFor(chain, ratio)!.reduce((all, one) => all * one.ratio, 1)).toBe(ratio);
	});
});
