import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import {
	factorAllowed,
	factorAt,
	factorCount,
	nearestFactor,
	pinsOf,
	profileFindings,
	pulseRule,
	readFactor,
	resetSetting,
	resolveClock,
	routesTo,
	setClock,
	shippedPart,
	stepFactor,
	timersOn,
	type Multiples,
	type OutputProfile
} from './index.js';
import { factorsText } from '../../lib/text/index.js';

const r = (text: string) => Rational.parse(text);
const heron = shippedPart('heron-32')!;
const fine: Multiples = { from: 8, to: 63, fractionBits: 10 };

describe('factors with a fraction', () => {
	test('are every m + k/2^b from the first to past the last', () => {
		expect(factorCount(fine)).toBe(56 * 1024);
		expect([factorAt(fine, 0), factorAt(fine, 1), factorAt(fine, factorCount(fine) - 1)].map(String)).toEqual([
			'8/1',
			'8193/1024',
			'65535/1024'
		]);
		expect(['8', '12.375', '63.9990234375'].map((text) => factorAllowed(fine, r(text)))).toEqual([true, true, true]);
		expect(['7.999', '64', '12.3'].map((text) => factorAllowed(fine, r(text)))).toEqual([false, false, false]);
		expect(factorsText(fine)).toBe('8 to 63, and steps of 1/1024 between');
	});
	test('set a tree exactly: 12 MHz x 12.375 = 148.5 MHz', () => {
		const clock = heron.clock.map((node) => (node.id === 'loop' && node.kind === 'multiply' ? { ...node, by: fine, reset: '8.5' } : node));
		const part = { ...heron, clock };
		expect(profileFindings(part)).toEqual([]);
		const rate = (settings: Parameters<typeof setClock>[1]) =>
			resolveClock(setClock(part, settings).nodes).rates.get('loop')!.hz!.toString();
		expect(rate({})).toBe('68000000/1');
		expect(rate({ crystal: r('12000000'), 'loop-source': 'crystal', loop: r('99/8') })).toBe('148500000/1');
		expect(setClock(part, { loop: r('12.3') }).findings.map((f) => f.value)).toEqual(['123/10']);
	});
	test('step by the fraction and stop at the ends', () => {
		expect([stepFactor(fine, r('8'), 1), stepFactor(fine, r('8'), -1), stepFactor(fine, r('65535/1024'), 1)].map(String)).toEqual([
			'8193/1024',
			'8/1',
			'65535/1024'
		]);
	});
});

describe('nearestFactor', () => {
	const offered = fc.constantFrom<Multiples>(
		{ from: 2, to: 9 },
		{ from: 3, to: 5, fractionBits: 2 },
		[1, 2, 4, 8, 64],
		['1/2', '3/2', '7']
	);
	test('is the nearest of all, a tie taking the larger (seed 61)', () => {
		fc.assert(
			fc.property(offered, fc.integer({ min: -50, max: 900 }), (by, tenths) => {
				const wished = Rational.ratio(tenths, 10);
				const found = nearestFactor(by, wished);
				expect(factorAllowed(by, found)).toBe(true);
				for (let i = 0; i < factorCount(by); i++) {
					const other = factorAt(by, i);
					const order = other.sub(wished).abs().compare(found.sub(wished).abs());
					expect(order > 0 || (order === 0 && other.compare(found) <= 0)).toBe(true);
				}
			}),
			{ seed: 61, numRuns: 300 }
		);
	});
});

test('long lists of factors are told by their ends', () => {
	const list = Array.from({ length: 40 }, (_, i) => i + 1);
	expect(factorsText(list)).toBe('1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, …, 40');
	expect(factorsText([1, 2])).toBe('1, 2');
	expect([readFactor(3), readFactor('3/2')].map(String)).toEqual(['3/1', '3/2']);
});

describe('looking things up in a part', () => {
	test('pins by what they can be, routes by where they lead, timers by their clock', () => {
		expect(pinsOf(heron, 'timer-a.ch1.n').map((pin) => pin.name)).toEqual(['B13', 'C10']);
		expect(pinsOf(heron, 'timer-g.ch1')).toEqual([]);
		expect(routesTo(heron, 'timer-f').map((route) => `${route.from.timer} ${route.to.input}`)).toEqual(['timer-b in1', 'timer-c in2']);
		expect(timersOn(heron, 'timer-c-on').map((timer) => timer.id)).toEqual(['timer-c']);
	});
	test('settings at reset, of every kind of node', () => {
		const at = (id: string) => String(resetSetting(heron.clock.find((node) => node.id === id)!));
		expect(['crystal', 'loop', 'bus-a', 'core-source', 'timer-a-on', 'timers-a'].map(at)).toEqual([
			'8000000/1',
			'8/1',
			'1/1',
			'rc',
			'false',
			'undefined'
		]);
	});
	test.each<[string, OutputProfile, 'up' | 'down' | 'updown', string | undefined]>([
		['a level', { model: 'level', sense: 'above' }, 'updown', 'above'],
		['high at zero, low at the match', { model: 'action', edge: 'leave', zero: 'high', matchUp: 'low' }, 'up', 'leave'],
		['the same counting down', { model: 'action', edge: 'leave', zero: 'high', matchUp: 'low' }, 'down', undefined],
		['high at the load, low at the match', { model: 'action', edge: 'enter', top: 'high', matchDown: 'low' }, 'down', 'enter'],
		['the other way round', { model: 'action', edge: 'enter', zero: 'low', matchUp: 'high' }, 'up', 'entered'],
		['a toggle has no one duty', { model: 'action', edge: 'enter', matchUp: 'toggle' }, 'up', undefined],
		[
			'nor has one that also acts at the top',
			{ model: 'action', edge: 'enter', zero: 'high', matchUp: 'low', top: 'high' },
			'up',
			undefined
		]
	])('%s', (_, output, mode, want) => {
		expect(pulseRule(output, mode)).toBe(want);
	});
});
