import { afterEach, describe, expect, test, vi } from 'vitest';
import { handOff } from '../../core/handoff/index.js';
import { derivePlan, fernhollow } from '../../core/plan/index.js';
import { heldDump, keepDump, keptDump } from './keptDump.js';

/** A browser's store, and one that takes nothing. */
function storeOf(full = false): Map<string, string> {
	const words = new Map<string, string>();
	vi.stubGlobal('localStorage', {
		getItem: (key: string) => words.get(key) ?? null,
		setItem: (key: string, word: string) => {
			if (full) throw new DOMException('full', 'QuotaExceededError');
			words.set(key, word);
		}
	});
	return words;
}

afterEach(() => vi.unstubAllGlobals());

const NOTHING = { text: '', base: '', hex: false };

describe('the dump beside a plan', () => {
	test('is kept as it was typed, each plan its own', () => {
		storeOf();
		const typed = { text: '01 02', base: '0x40', hex: true, grouped: 'words' as const };
		keepDump('a', typed);
		expect([keptDump('a'), keptDump('b')]).toEqual([typed, NOTHING]);
	});

	test('is none where what stands there is not understood, or nothing could be kept', () => {
		const words = storeOf();
		for (const left of ['no JSON', '7', 'null', '{"text": 7, "hex": "yes", "grouped": "pairs"}']) {
			words.set('nolvet-handoff a', left);
			expect(keptDump('a')).toEqual(NOTHING);
		}
		storeOf(true);
		keepDump('a', { ...NOTHING, text: 'x' });
		expect(keptDump('a')).toEqual(NOTHING);
	});

	test('is laid on the registers from where it begins; an address that is none is as if none was said', () => {
		const of = handOff(derivePlan(fernhollow()));
		const reload = (base: string) =>
			heldDump(of, { text: '0x0000EA60', base, hex: false })?.quantities.find(
				({ unit, quantity }) => unit === 'timer-d' && quantity === 'reload'
			)?.read;
		expect([reload('0x40001410'), reload('here'), reload('')]).toEqual([60_000, undefined, undefined]);
		expect(heldDump(of, { ...NOTHING, text: ' \n' })).toBeUndefined();
	});
});
