import { describe, expect, test } from 'vitest';
import { readFileSync } from 'node:fs';
import { z } from 'zod';
import { intervalTicks } from '../timer/index.js';
import {
	cleaned,
	fileFindings,
	partShape,
	profileFindings,
	readProfile,
	shippedPart,
	shippedParts,
	timerProfile,
	uncleanAt,
	type CountingMode
} from './index.js';
import { documentText } from '../../lib/text/index.js';

const heron = shippedPart('heron-32')!;
const places = (change: object) => profileFindings({ ...heron, ...change }).map(({ path }) => path.join('.'));
const said = (change: object) => profileFindings({ ...heron, ...change }).map((one) => `${one.path.join('.')}: ${documentText(one)}`);
const node = (more: object) => ({ id: 'n', name: 'N', from: 'core', ...more });

describe('what ships', () => {
	test('is valid and named once', () => {
		expect(shippedParts().map((part) => part.id)).toEqual(['heron-32', 'plover-16', 'sprat-8']);
		for (const part of shippedParts()) expect(profileFindings(part)).toEqual([]);
	});
	test('together uses every way of counting, every prescaler and every kind of clock node', () => {
		const timers = shippedParts().flatMap((part) => part.timers);
		expect([...new Set(timers.flatMap((t) => t.modes))].sort()).toEqual([
			'advance',
			'clear',
			'down',
			'free',
			'preload',
			'tap',
			'up',
			'updown'
		]);
		expect([...new Set(timers.map((t) => t.prescaler.kind))].sort()).toEqual(['chain', 'fixed', 'ladder', 'linear']);
		expect(new Set(shippedParts().flatMap((part) => part.clock.map((n) => n.kind))).size).toBe(6);
	});
	test('leaves no setting of a profile unused, but for what timers.md 12 lists', () => {
		const used = new Set<string>();
		const walk = (value: unknown): void => {
			if (value === null || typeof value !== 'object') return;
			for (const [key, child] of Object.entries(value)) {
				if (!Array.isArray(value)) used.add(key);
				walk(child);
			}
		};
		shippedParts().forEach(walk);
		const offered = new Set<string>();
		const collect = (schema: unknown): void => {
			if (schema === null || typeof schema !== 'object') return;
			for (const [key, child] of Object.entries(schema)) {
				if (key === 'properties') Object.keys(child as object).forEach((name) => offered.add(name));
				collect(child);
			}
		};
		collect(z.toJSONSchema(partShape));
		expect([...offered].filter((key) => !used.has(key)).sort()).toEqual(['delay', 'index', 'secondCompare', 'separate']);
		expect(new Set(shippedParts().flatMap((part) => part.timers.map((t) => t.rule)))).toEqual(new Set(['inclusive', 'exclusive']));
	});
	test('Heron-32 has eight timers and the core’s own, one of 32 bits, one with complementary outputs, and 48 pins', () => {
		expect(heron.timers.length).toBe(9);
		expect(heron.timers.filter((t) => t.width === 32).map((t) => t.id)).toEqual(['timer-b']);
		expect(heron.timers.filter((t) => t.channels.some((c) => c.complement)).map((t) => t.id)).toEqual(['timer-a']);
		expect(heron.pins?.length).toBe(48);
	});
});

/** One fragment a row of timers.md 3, with a value and the ticks that the row gives for it. */
const base = { id: 't', name: 'T', kernel: 'core', rule: 'inclusive', channels: [], prescaler: { kind: 'linear', max: 256 } };
const ROWS: [string, object, { mode: CountingMode; value: number; late?: number }, number][] = [
	['up, inclusive', { width: 16, modes: ['up'] }, { mode: 'up', value: 999 }, 1000],
	['up, exclusive', { width: 16, modes: ['up'], rule: 'exclusive' }, { mode: 'up', value: 1000 }, 1000],
	['down, inclusive', { width: 24, modes: ['down'] }, { mode: 'down', value: 999 }, 1000],
	['down, exclusive', { width: 24, modes: ['down'], rule: 'exclusive' }, { mode: 'down', value: 1000 }, 1000],
	['updown', { width: 16, modes: ['updown'], update: ['bottom', 'top', 'both'] }, { mode: 'updown', value: 500 }, 1000],
	['free', { width: 8, modes: ['free'] }, { mode: 'free', value: 0 }, 256],
	['preload by hardware', { width: 8, modes: ['preload'], preload: 'hardware' }, { mode: 'preload', value: 6 }, 250],
	['preload by software', { width: 16, modes: ['preload'], preload: 'software' }, { mode: 'preload', value: 64536, late: 3 }, 1003],
	['tap', { width: 24, modes: ['tap'], tap: { from: 7, to: 23 } }, { mode: 'tap', value: 9 }, 1024],
	['advance', { width: 32, modes: ['advance'] }, { mode: 'advance', value: 1000 }, 1000],
	['clear', { width: 16, modes: ['clear'] }, { mode: 'clear', value: 999, late: 2 }, 1002]
];

describe('every row of timers.md 3 is a plain fragment', () => {
	test.each(ROWS)('%s', (_, fragment, settings, ticks) => {
		const timer = timerProfile.parse({ ...base, ...fragment });
		expect(timer.modes).toContain(settings.mode);
		expect(intervalTicks({ ...settings, rule: timer.rule, width: timer.width })).toBe(ticks);
		expect(places({ timers: [timer], wiring: [], pins: [] })).toEqual([]);
	});
	test('and no row is left out', () => expect(new Set(ROWS.map(([, , { mode }]) => mode)).size).toBe(8));
	test('values that do not fit are refused', () => {
		const at = (mode: CountingMode, value: number) => () => intervalTicks({ mode, value, rule: 'inclusive', width: 8 });
		expect(at('advance', 0)).toThrow(RangeError);
		expect(at('tap', 8)).toThrow(RangeError);
		expect(at('preload', 256)).toThrow(RangeError);
		expect(at('clear', 255)()).toBe(256);
	});
});

describe('profileFindings', () => {
	test('tells all at once, shape and sense, sorted by place', () => {
		const clock = [...heron.clock, heron.clock[0], node({ kind: 'gate', from: 'nowhere', reset: true }), node({ kind: 'wheel' })];
		const at = heron.clock.length;
		const found = places({ clock, name: '', timers: [{ ...heron.timers[0], kernel: 'gone', width: 99 }, ...heron.timers.slice(1)] });
		expect(found).toEqual([
			`clock.${at}.id`,
			`clock.${at + 1}.from`,
			`clock.${at + 2}.id`,
			`clock.${at + 2}.kind`,
			'name',
			'timers.0.width'
		]);
	});
	test.each<[string, object, string]>([
		['a select without inputs', node({ kind: 'select', from: [], reset: 'rc' }), 'clock.N.from'],
		['a select whose reset is no input', node({ kind: 'select', from: ['rc'], reset: 'crystal' }), 'clock.N.reset'],
		['a factor of zero', node({ kind: 'divide', by: [0, 2], reset: 2 }), 'clock.N.by.0'],
		['a negative factor', node({ kind: 'multiply', by: ['-3'], reset: 2 }), 'clock.N.by.0'],
		['a reset outside its range', node({ kind: 'divide', by: { from: 1, to: 8 }, reset: 9 }), 'clock.N.reset'],
		['a range that ends before it begins', node({ kind: 'divide', by: { from: 8, to: 1 }, reset: 2 }), 'clock.N.by'],
		[
			'limits the wrong way round',
			node({ kind: 'gate', reset: true, min: { hz: '2', why: '' }, max: { hz: '1', why: '' } }),
			'clock.N.min'
		],
		['a frequency below zero', { id: 'n', name: 'N', kind: 'source', hz: '-1', ppm: { lo: '0', hi: '0' }, chosen: true }, 'clock.N.hz'],
		['a clock that comes back to itself', node({ kind: 'divide', from: 'n', by: [2], reset: 2 }), 'clock.N.id'],
		['a setting nobody knows', node({ kind: 'gate', reset: true, colour: 'red' }), 'clock.N.colour']
	])('%s', (_, bad, want) => {
		expect(places({ clock: [...heron.clock, bad] })).toEqual([want.replace('N', String(heron.clock.length))]);
	});
	test('a cycle through several nodes is one finding', () => {
		const ring = ['a', 'b', 'c'].map((id, i) => ({ id, name: id, kind: 'divide', from: 'cab'[i], by: [2], reset: 2 }));
		expect(said({ clock: [...heron.clock, ...ring] })).toEqual([expect.stringContaining('comes back to itself')]);
	});
	test.each<[string, object, string]>([
		['preload by nobody', { modes: ['preload'] }, 'preload'],
		['a tap beyond the width', { modes: ['tap'], tap: { from: 3, to: 16 } }, 'tap'],
		['an encoder on channels that are not there', { encoder: { a: 'x', b: 'ch1', times: [4] } }, 'encoder.a'],
		['an interrupt on a channel that is not there', { interrupts: [{ name: 'I', on: ['match:x'] }] }, 'interrupts.0.on.0'],
		[
			'a code that stands twice',
			{
				prescaler: {
					kind: 'ladder',
					steps: [
						{ ratio: 1, code: 1 },
						{ ratio: 2, code: 1 }
					]
				}
			},
			'prescaler.steps.1.code'
		],
		['a ladder that only stops', { prescaler: { kind: 'ladder', steps: [{ ratio: 0, code: 0 }] } }, 'prescaler.steps']
	])('%s', (_, bad, want) => {
		const timers = [{ ...heron.timers[0], ...bad }, ...heron.timers.slice(1)];
		expect(places({ timers })).toEqual([`timers.0.${want}`]);
	});
	test('wiring and pins name what there is', () => {
		const wiring = [{ from: { timer: 'timer-a', sources: ['match:ch9'] }, to: { timer: 'timer-z', input: 'in1' } }];
		const pins = [{ id: 'x', name: 'X', functions: ['timer-a.ch4.n', 'clock.gone', 'timer-a.ch1'] }];
		expect(places({ wiring, pins })).toEqual(['pins.0.functions.0', 'pins.0.functions.1', 'wiring.0.from.sources.0', 'wiring.0.to.timer']);
	});
});

describe('addresses of links', () => {
	test.each(['https://manuals.example/a.pdf', 'http://manuals.example', '/manuals/a.pdf', './a.pdf', '../a.pdf'])(
		'%s is one',
		(address) => {
			expect(fileFindings({ ...heron, links: [{ title: 'Manual', address }] }).filter(({ code }) => code === 'address-wanted')).toEqual([]);
		}
	);
	test.each([
		'//host/a',
		'/\\host/a',
		'.//host',
		'\\\\host',
		'javascript:alert(1)',
		'JAVASCRIPT:alert(1)',
		'data:text/html,x',
		' https://a',
		'https:///a',
		'http:\\\\host',
		'/a b'
	])('%s is none', (address) => {
		const timers = [{ ...heron.timers[0], links: [{ title: 'Manual', address }] }, ...heron.timers.slice(1)];
		expect(fileFindings({ ...heron, timers }).map(({ code }) => code)).toEqual(['address-wanted']);
	});
});

describe('a text that cannot be stored', () => {
	test.each<[unknown, (string | number)[] | undefined]>([
		[{ a: ['x', { b: 'y\0' }] }, ['a', 1, 'b']],
		[{ 'a\ud800': 1 }, ['a\ufffd']],
		['\udc00', []],
		[{ a: '\ud83d\ude00', b: [null, 1, true] }, undefined]
	])('%j', (value, place) => {
		expect(uncleanAt(value)).toEqual(place);
		expect(uncleanAt(cleaned(value))).toBeUndefined();
		if (!place) expect(cleaned(value)).toBe(value);
	});
	test('is a finding of a profile', () => {
		expect(fileFindings({ ...heron, summary: 'a\0' })).toEqual([{ path: ['summary'], code: 'text-unclean' }]);
	});
});

describe('a profile file', () => {
	test('of a newer version is told as such', () => {
		expect(fileFindings({ ...heron, version: 4, other: 1 })).toEqual([
			{ path: ['version'], code: 'version-newer', details: { version: 4, known: 3 } }
		]);
	});
	test.each([null, 5, 'x', []])('%j is none', (raw) => expect(() => readProfile(raw)).toThrow('object-wanted'));
	test('of 5,000 nodes is read', () => {
		const chain = Array.from({ length: 5000 }, (_, i) => ({
			...node({ kind: 'divide', by: [1, 2], reset: 1 }),
			id: `n${i}`,
			from: i ? `n${i - 1}` : 'core'
		}));
		expect(readProfile({ ...heron, clock: [...heron.clock, ...chain] }).clock.length).toBe(5000 + heron.clock.length);
	});
});

test('docs/part.schema.json is the schema as it stands (npm run schema renews it)', () => {
	const written: unknown = JSON.parse(readFileSync('docs/part.schema.json', 'utf8'));
	expect(written).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(partShape))));
});
