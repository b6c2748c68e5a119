import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { AIM_KINDS } from '../../src/core/aims/index.js';

/** Other unions that happen to share a word with a kind of aim: what an output does, what a mark means, how a capture works. */
const OTHERS = [
	['core/sim/outputs.ts', "action === 'toggle'"],
	['lib/wave/lanePainter.ts', "mark === 'capture'"],
	['lib/wave/lanePainter.ts', "case 'capture'"],
	['lib/features/aims/kinds/capture/view.ts', "aim.method === 'capture'"],
	['lib/features/aims/fixes.ts', "desk.aim.method !== 'capture'"]
];

const names = AIM_KINDS.join('|');
const COMPARISON = new RegExp(`[\\w.]+ (?:===|!==) '(?:${names})'|case '(?:${names})'|'(?:${names})' (?:===|!==)`, 'g');

/** Comparisons with a kind's name in the rest of the source, file and text. */
function comparisons(): [string, string][] {
	return readdirSync('src', { recursive: true, encoding: 'utf8' })
		.filter((name) => /\.(ts|svelte)$/.test(name) && !/\.test\.ts$/.test(name) && !name.startsWith('core/aims/'))
		.flatMap((name) => [...readFileSync(join('src', name), 'utf8').matchAll(COMPARISON)].map(([text]): [string, string] => [name, text]));
}

test('nothing outside the kinds compares with the name of one', () => {
	const found = comparisons();
	expect(found.filter(([file, text]) => !OTHERS.some(([f, t]) => f === file && t === text))).toEqual([]);
	// What the list allows is there: the search finds something.
	for (const other of OTHERS) expect(found).toContainEqual(other);
});
