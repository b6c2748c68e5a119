import { beforeEach, describe, expect, test } from 'vitest';
import { BenchView } from './benchView.svelte.js';

let view: BenchView;
beforeEach(() => {
	view = new BenchView();
	view.width = 1000;
});
const ends = () => [view.timeAt(0), view.timeAt(view.width)].map((time) => Math.round(time));

describe('the view of the bench', () => {
	test('begins with the first three periods, and with all where there is no period', () => {
		view.setExtent(0, 1e9, 1e6);
		// Two per cent of air on each side.
		expect(ends()).toEqual([-0.02 * 3e6, 1.02 * 3e6]);
		view.setExtent(-1e6, 3e6, undefined);
		expect(ends()).toEqual([-1e6 - 0.02 * 4e6, 3e6 + 0.02 * 4e6]);
	});
	test('a period longer than all there is shows no more than that', () => {
		view.setExtent(0, 1e6, 1e9);
		expect(ends()).toEqual([-0.02 * 1e6, 1.02 * 1e6]);
	});
	test('follows what comes until it is moved', () => {
		view.setExtent(0, 1e9, 1e6);
		view.pan(100);
		const moved = ends();
		view.setExtent(0, 5e9, 7e6);
		expect(ends()).toEqual(moved);
		view.fit();
		view.setExtent(0, 2e9, 7e6);
		expect(ends()).toEqual([-0.02 * 2e9, 1.02 * 2e9]);
	});
	test('a wider window shows the same time', () => {
		view.setExtent(0, 1e9, undefined);
		const before = ends();
		view.width = 2000;
		view.follow();
		expect(ends()).toEqual(before);
	});
	test('zooming keeps the moment under the pointer', () => {
		view.setExtent(0, 1e9, 1e6);
		const at = view.timeAt(300);
		for (const factor of [0.5, 0.1, 3, 40]) {
			view.zoom(factor, 300);
			expect(view.timeAt(300)).toBeCloseTo(at, 0);
			expect(view.xOf(at)).toBeCloseTo(300, 6);
		}
	});
	test('ends at a picosecond a pixel, and at a little more than all there is', () => {
		view.setExtent(0, 1e9, 1e6);
		view.zoom(1e-30, 0);
		expect(view.perColumn).toBe(1);
		view.zoom(1e30, 0);
		expect(view.perColumn * view.width).toBe(1.5e9);
	});
	test('cannot be moved away from all there is to see', () => {
		view.setExtent(0, 1e9, 1e6);
		view.pan(1e9);
		expect(view.timeAt(100)).toBeCloseTo(1e9, 0);
		view.pan(-1e12);
		expect(view.timeAt(900)).toBeCloseTo(0, 0);
	});
	test('shows one period when it is asked for it', () => {
		view.setExtent(0, 1e9, 1e6);
		view.onePeriod();
		expect(ends()).toEqual([-0.02 * 1e6, 1.02 * 1e6]);
	});
	test('zero is where a cursor was made zero, and the plan’s own without it', () => {
		expect(view.zero).toBe(0);
		view.zeroAt = 'a';
		expect(view.zero).toBe(0);
		view.cursorA = 42;
		expect(view.zero).toBe(42);
		view.zeroAt = 'b';
		expect(view.zero).toBe(0);
	});
});
