import { describe, expect, test } from 'vitest';
import { inSlices } from './slices.js';
import { inTurn, turnsOver } from './turns.js';

/** Keeps the processor busy for so long. */
function spin(ms: number): void {
	for (const begun = performance.now(); performance.now() - begun < ms;);
}

describe('work in slices', () => {
	test('comes to its end, and the page had turns in between', async () => {
		let turns = 0;
		const timer = setInterval(() => turns++);
		function* work() {
			for (let i = 0; i < 4; i++) {
				spin(15);
				yield;
			}
			return 'done';
		}
		expect(await inSlices(work())).toBe('done');
		clearInterval(timer);
		expect(turns).toBeGreaterThan(0);
	});
	test('that is no longer wanted comes to nothing', async () => {
		let steps = 0;
		let ended = false;
		function* work() {
			for (;;) {
				steps++;
				setTimeout(() => (ended = true));
				spin(15);
				yield;
			}
		}
		expect(await inSlices(work(), () => ended)).toBeUndefined();
		expect(steps).toBe(1);
	});
});

describe('turns', () => {
	test('come in the order of asking; what is shown may ask for more; one may be taken back', async () => {
		const shown: string[] = [];
		inTurn(() => {
			shown.push('a');
			inTurn(() => shown.push('a, inside'));
		});
		const takeBack = inTurn(() => shown.push('b'));
		inTurn(() => shown.push('c'));
		takeBack();
		expect(shown).toEqual([]);
		await turnsOver();
		expect(shown).toEqual(['a', 'c', 'a, inside']);
		inTurn(() => shown.push('d'));
		await turnsOver();
		expect(shown.at(-1)).toBe('d');
	});
	test('go on behind one that fails', async () => {
		const shown: string[] = [];
		inTurn(() => {
			throw new Error('cannot be shown');
		});
		inTurn(() => shown.push('after it'));
		await expect(turnsOver()).rejects.toThrow('cannot be shown');
		await turnsOver();
		expect(shown).toEqual(['after it']);
	});
});
