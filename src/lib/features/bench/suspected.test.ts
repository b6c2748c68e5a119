import { expect, test } from 'vitest';
import { suspectedOf } from './suspected.js';

const wave = { recording: 'r', line: 'l', aim: 'a', role: 'pin' };

test('a course that goes on in turns goes on for ever, in picoseconds', () => {
	const { source, wire } = suspectedOf({
		...wave,
		course: { level: 1, times: Float64Array.of(2e-6, 5e-6, 9e-6), turn: { first: 1, count: 2, period: 10e-6 } }
	});
	// Edges at 2, 5, 9, 15, 19, 25 us ...
	expect([0, 1, 2, 3, 4, 5, 202].map((edge) => Math.round(source.edgeTime(edge) / 1e6))).toEqual([2, 5, 9, 15, 19, 25, 1009]);
	expect([source.initial, source.levelAfter(1), source.levelAfter(4)]).toEqual([1, 0, 1]);
	expect(wire).toMatchObject({ kind: 'predicted', unit: '1/1000000000000' });
});

test('one that was not followed to its end is held against nothing behind it', () => {
	const { wire, ppm } = suspectedOf({
		...wave,
		ppm: [-10_000, 10_000],
		course: { level: 0, times: Float64Array.of(1e-3, 2e-3), cut: true }
	});
	expect(wire).toMatchObject({ until: 2e9 });
	expect(ppm).toEqual([-10_000, 10_000]);
});
