import { beforeEach, describe, expect, test, vi } from 'vitest';
import { paintNoMore, paintSoon } from './paintQueue.js';

let frames: (() => void)[] = [];
beforeEach(() => {
	frames = [];
	vi.stubGlobal('requestAnimationFrame', (frame: () => void) => frames.push(frame));
});
/** Lets one frame come. */
const frame = () => frames.splice(0).forEach((paint) => paint());
const spin = (ms: number) => {
	for (const begun = performance.now(); performance.now() - begun < ms;);
};

describe('paintings', () => {
	test('come once a frame, the last of an owner alone', () => {
		const done: string[] = [];
		const [a, b] = [{}, {}];
		paintSoon(a, () => done.push('a, old'));
		paintSoon(b, () => done.push('b'));
		paintSoon(a, () => done.push('a'));
		expect([done, frames.length]).toEqual([[], 1]);
		frame();
		expect([done, frames.length]).toEqual([['a', 'b'], 0]);
	});
	test('are not done for an owner that went away', () => {
		const owner = {};
		const painted = vi.fn();
		paintSoon(owner, painted);
		paintNoMore(owner);
		frame();
		expect(painted).not.toHaveBeenCalled();
	});
	test('that take long go on in the next frame, before what came later', () => {
		const done: string[] = [];
		const [a, b, c] = [{}, {}, {}];
		paintSoon(a, () => {
			spin(20);
			done.push('a');
		});
		paintSoon(b, () => done.push('b'));
		frame();
		expect(done).toEqual(['a']);
		paintSoon(c, () => done.push('c'));
		frame();
		expect(done).toEqual(['a', 'b', 'c']);
	});
});
