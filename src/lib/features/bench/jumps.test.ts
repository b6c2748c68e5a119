import { describe, expect, test } from 'vitest';
import { momentsOf, nextMoment, type Line } from './jumps.js';

describe('jumps', () => {
	const line: Line = { sources: [momentsOf([30, 10, 20]), momentsOf([25])], unit: 1000, shift: 0 };
	test('go to the next moment of any source, to both sides, and stop at the ends', () => {
		expect([nextMoment([line], 10_000, 1), nextMoment([line], 20_000, 1), nextMoment([line], 30_000, 1)]).toEqual([
			20_000,
			25_000,
			undefined
		]);
		expect([nextMoment([line], 25_000, -1), nextMoment([line], 10_000, -1)]).toEqual([20_000, undefined]);
	});
});
