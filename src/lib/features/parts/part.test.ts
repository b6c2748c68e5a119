import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { documentText } from '../../text/index.js';
import { fileFindings, partShape, shippedPart } from '../../../core/part/index.js';
import { profilePlace } from '../../text/index.js';
import { newProfileText } from './newProfile.js';
import { PartSession, valueAt } from './part.svelte.js';
import {
	blank,
	isLadder,
	ladderText,
	partSchema,
	readLadder,
	resolve,
	typedValue,
	variantName,
	variantOf,
	variantsOf,
	type Schema
} from './schemaForm.js';

/** A shelf of one profile; `down` makes every call fail. */
class Shelf {
	text = newProfileText();
	revision = 1;
	down = false;
	writes = 0;

	fetch = (_: string, options: { method: string; body?: string }): Promise<Response> => {
		if (this.down) return Promise.reject(new TypeError('connection refused'));
		const answer = (status: number, body: unknown) => Promise.resolve(new Response(JSON.stringify(body), { status }));
		if (options.method === 'GET') return answer(200, { revision: this.revision, text: this.text });
		const { base, text } = JSON.parse(options.body!) as { base?: number; text: string };
		if (options.method === 'POST') return answer(201, { key: 'copy' });
		if (base !== this.revision) return answer(409, { message: 'newer', revision: this.revision });
		this.writes++;
		this.text = text;
		return answer(200, { revision: ++this.revision });
	};
}

let shelf: Shelf;
let session: PartSession;
beforeEach(() => {
	vi.useFakeTimers();
	shelf = new Shelf();
	vi.stubGlobal('fetch', shelf.fetch);
	session = new PartSession({ key: 'k', shipped: false, revision: 1, text: shelf.text });
});
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

const rest = (ms = 500) => vi.advanceTimersByTimeAsync(ms);
const at = (...path: (string | number)[]) => valueAt(session.document, path);

describe('PartSession', () => {
	test('a new profile is valid as it stands', () => {
		expect(session.findings).toEqual([]);
		expect(session.part?.timers[0].id).toBe('timer-1');
	});

	test('sets, puts in and takes away, saved soon after', async () => {
		session.set(['clock', 0, 'hz'], '8000000', 'set the crystal');
		session.insert(['clock'], 1, { id: 'extra', name: 'Extra', kind: 'gate', from: 'crystal', reset: true }, 'add');
		session.set(['timers', 0, 'repeat'], 7, 'set repeat');
		expect([at('clock', 0, 'hz'), at('clock', 1, 'id'), at('clock', 2, 'id'), at('timers', 0, 'repeat')]).toEqual([
			'8000000',
			'extra',
			'core',
			7
		]);
		session.set(['clock', 1], undefined, 'take away');
		session.set(['timers', 0, 'repeat'], undefined, 'take away');
		expect([at('clock', 1, 'id'), at('timers', 0, 'repeat')]).toEqual(['core', undefined]);
		await rest();
		expect([shelf.text, shelf.revision, session.save.kind]).toEqual([session.text, 2, 'saved']);
	});

	test('typing on in one field is one thing to undo, and redo brings it again', () => {
		const before = session.text;
		for (const [i, name] of ['M', 'My', 'My chip'].entries()) session.set(['name'], name, 'rename', i > 0);
		session.undo();
		expect(session.text).toBe(before);
		session.redo();
		expect(at('name')).toBe('My chip');
	});

	test('what was undone before it was sent counts as saved', async () => {
		session.set(['name'], 'Other', 'rename');
		session.undo();
		await rest();
		expect([shelf.writes, session.save.kind]).toEqual([0, 'saved']);
	});

	test('text that is no JSON is kept and saved, with the place of the fault', async () => {
		session.write(`${session.text.slice(0, 40)} oops`, 'edit the text');
		expect(session.document).toBeUndefined();
		expect(documentText(session.findings[0])).toMatch(/^this is no JSON: .*line \d+/);
		await rest();
		expect(shelf.text).toBe(session.text);
		session.undo();
		expect(session.findings).toEqual([]);
	});

	test('one saved elsewhere is told and nothing is overwritten; the newer one can be taken, mine kept as a copy', async () => {
		shelf.revision = 4;
		shelf.text = '{"id": "theirs"}';
		session.set(['name'], 'Mine', 'rename');
		await rest();
		expect(session.save).toEqual({ kind: 'stale', revision: 4 });
		expect(shelf.text).toBe('{"id": "theirs"}');
		expect(await session.keepAsCopy()).toBe('copy');
		await session.takeNewer();
		expect([session.text, session.revision, session.save.kind]).toEqual(['{"id": "theirs"}', 4, 'saved']);
		session.undo();
		expect(at('name')).toBe('Mine');
	});

	test('a save that fails keeps the edit and tries again', async () => {
		shelf.down = true;
		session.set(['name'], 'Kept', 'rename');
		await rest();
		expect([session.save.kind, session.losable]).toEqual(['failed', true]);
		shelf.down = false;
		await rest(3500);
		expect([session.save.kind, shelf.text.includes('Kept')]).toEqual(['saved', true]);
	});

	test('a shipped profile stays as it is', () => {
		const shipped = new PartSession({ key: 'heron-32', shipped: true, revision: 0, text: '{}' });
		shipped.set(['name'], 'x', 'rename');
		expect([shipped.text, shipped.unsaved]).toEqual(['{}', false]);
	});

	test('a profile of version 1 is edited as one of the newest version', () => {
		const old = {
			version: 1,
			id: 'old',
			name: 'Old',
			summary: '',
			clock: [{ id: 'c', name: 'C', kind: 'source', hz: '1', ppm: { lo: '0', hi: '0' }, chosen: true }],
			timers: [
				{
					id: 't',
					name: 'T',
					kernel: 'c',
					prescaler: { kind: 'fixed', ratio: 1 },
					width: 8,
					modes: ['down'],
					rule: 'inclusive',
					channels: [{ id: 'a', name: 'A', pin: 'P1', output: 'leave' }]
				}
			]
		};
		const opened = new PartSession({ key: 'k', shipped: false, revision: 1, text: JSON.stringify(old) });
		expect(opened.findings).toEqual([]);
		expect(opened.part?.timers[0].channels[0].outputs).toEqual([{ model: 'action', edge: 'leave', top: 'high', matchDown: 'low' }]);
		expect(opened.part?.pins).toEqual([{ id: 'pin-1', name: 'P1', functions: ['t.a'] }]);
	});
});

describe('a pasted list of ratios', () => {
	test.each([
		['1, 8, 64', '1=0 8=1 64=2'],
		['1\n8\t64;256', '1=0 8=1 64=2 256=3'],
		['÷1 ÷8=2 /64', '1=0 8=2 64=3'],
		['0=0, 1 = 0x01, 8: 0b10', '0=0 1=1 8=2']
	])('%j', (text, want) => {
		const steps = readLadder(text)!;
		expect(steps.map(({ ratio, code }) => `${ratio}=${code}`).join(' ')).toBe(want);
		expect(readLadder(ladderText(steps))).toEqual(steps);
	});
	test.each(['', '1, x', '1.5', '8 = ', '-2'])('%j is none', (text) => expect(readLadder(text)).toBeUndefined());
	test('is asked for where a profile has ratios with codes, and nowhere else', () => {
		const found: string[] = [];
		const look = (schema: Schema, path: string, depth: number): void => {
			if (depth > 9) return;
			const s = resolve(schema);
			if (s.type === 'array' && s.items && isLadder(s)) found.push(path);
			for (const [key, child] of Object.entries(s.properties ?? {})) look(child, `${path}.${key}`, depth + 1);
			for (const child of [...(variantsOf(s) ?? []), ...(s.items ? [s.items] : [])]) look(child, path, depth + 1);
		};
		look(partSchema(), '', 0);
		expect(new Set(found.map((path) => path.split('.').at(-1)))).toEqual(new Set(['steps']));
	});
});

describe('forms made from the schema', () => {
	const node = () => resolve(partSchema().properties!.clock.items!);
	const timer = () => resolve(partSchema().properties!.timers.items!);

	test('tell the kinds of a clock node apart by its kind, of factors by their shape', () => {
		const kinds = variantsOf(node())!;
		expect(kinds.map((_, i) => variantName(kinds, i))).toEqual(['source', 'divide', 'multiply', 'select', 'follow', 'gate']);
		expect(variantOf(kinds, { kind: 'select' })).toBe(3);
		expect(variantOf(kinds, { kind: 'wheel' })).toBe(-1);
		const by = variantsOf(resolve(kinds[1]).properties!.by)!;
		expect([variantOf(by, [1, 2]), variantOf(by, { from: 1, to: 2 }), variantName(by, 0), variantName(by, 1)]).toEqual([
			0,
			1,
			'a list',
			'a range'
		]);
	});
	test('begin with the least that has the right shape', () => {
		for (const variant of variantsOf(node())!) {
			const made = { ...(blank(variant) as object), id: 'n', name: 'N' };
			const wrong = fileFindings({ ...shippedPart('heron-32')!, clock: [made], timers: [], wiring: [], pins: [] });
			expect(wrong.filter((f) => ['wrong-type', 'unknown-key'].includes(f.code))).toEqual([]);
		}
		expect(blank(timer().properties!.prescaler)).toEqual({ kind: 'linear', max: 1 });
		expect(
			partShape.shape.timers.safeParse([{ ...(blank(timer()) as object), id: 't', name: 'T', kernel: 'c', modes: ['up'] }]).success
		).toBe(true);
	});
	test('keep what is typed where a number is wanted', () => {
		const number: Schema = { type: 'integer' };
		expect([
			typedValue(number, ' 12 '),
			typedValue(number, 'twelve'),
			typedValue(number, ''),
			typedValue({ type: 'string' }, '12')
		]).toEqual([12, 'twelve', '', '12']);
	});
	test('places are said by the ids of the elements', () => {
		const heron = shippedPart('heron-32')!;
		expect(profilePlace(['timers', 0, 'channels', 1, 'capture', 'every'], heron)).toBe('timer-a › ch2 › capture › every n-th edge');
		expect(profilePlace(['timers', 0, 'prescaler', 'max'], heron)).toBe('timer-a › prescaler › largest ratio');
		expect(profilePlace([], heron)).toBe('the profile');
	});
});
