import { beforeAll, describe, expect, test, vi } from 'vitest';
import { findingKeys, undoKeys } from './keys.js';

// The rules ask whether a field has the key; here there is no page to have one.
beforeAll(() => vi.stubGlobal('HTMLElement', class {}));

function pressed(key: string, held: Partial<KeyboardEvent> = {}): KeyboardEvent & { taken: boolean } {
	const event = { key, target: null, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, taken: false, ...held };
	return Object.assign(event, { preventDefault: () => (event.taken = true) }) as unknown as KeyboardEvent & { taken: boolean };
}

describe('keys', () => {
	test.each<[string, Partial<KeyboardEvent>, string]>([
		['z', { ctrlKey: true }, 'undo'],
		['Z', { ctrlKey: true, shiftKey: true }, 'redo'],
		['y', { metaKey: true }, 'redo'],
		['z', {}, 'nothing'],
		['z', { ctrlKey: true, altKey: true }, 'nothing'],
		['x', { ctrlKey: true }, 'nothing']
	])('%s with %o does %s', (key, held, what) => {
		const done: string[] = [];
		const event = pressed(key, held);
		undoKeys(event, { undo: () => done.push('undo'), redo: () => done.push('redo') });
		expect(done.join() || 'nothing').toBe(what);
		expect(event.taken).toBe(what !== 'nothing');
	});
	test('brackets step through findings', () => {
		expect([']', '[', 'x'].map((key) => findingKeys(pressed(key)))).toEqual([1, -1, undefined]);
	});
	test('but not while someone types', () => {
		const field = Object.assign(Object.create(HTMLElement.prototype), { matches: () => true }) as HTMLElement;
		expect(findingKeys(pressed(']', { target: field }))).toBeUndefined();
	});
});
