import { describe, expect, test } from 'vitest';
import { aimKind, freshAim, type Aim } from '../aims/index.js';
import { assignPins, channelsOf, derivePlan, fernhollow, type Plan } from './index.js';

const demo = fernhollow();
const planOf = (...aims: Aim[]): Plan => ({ ...demo, aims });
const given = (plan: Plan) => assignPins(plan).map(({ aim, what, pin, trouble }) => [aim, what, pin?.name, trouble?.code]);
const pulse = (id: string, timer: string, channel: string, pins: Aim['pins'] = {}) => ({
	...freshAim('pwm', id, id, timer, { channel: channel }),
	pins
});

describe('assignPins', () => {
	test('gives each function its first free pin, in the plan’s order', () => {
		// Timer B’s channel 1 reaches A0 and A15.
		expect(given(planOf(pulse('a', 'timer-b', 'ch1'), pulse('b', 'timer-b', 'ch1')))).toEqual([
			['a', 'ch1', 'A0', undefined],
			['b', 'ch1', 'A15', undefined]
		]);
	});
	test('a pin that is chosen goes before one that just comes', () => {
		const plan = planOf(pulse('a', 'timer-b', 'ch1'), pulse('b', 'timer-b', 'ch1', { ch1: 'a0' }));
		expect(given(plan)).toEqual([
			['a', 'ch1', 'A15', undefined],
			['b', 'ch1', 'A0', undefined]
		]);
	});
	test('moves one that came before where that gives both a pin', () => {
		const pin = (id: string, ...functions: string[]) => ({ id, name: id.toUpperCase(), functions });
		const part = {
			...demo.part,
			pins: [pin('p', 'timer-b.ch1', 'timer-b.ch2'), pin('q', 'timer-b.ch1', 'timer-b.ch3'), pin('r', 'timer-b.ch3')]
		};
		const plan = { ...planOf(pulse('a', 'timer-b', 'ch1'), pulse('b', 'timer-b', 'ch3'), pulse('c', 'timer-b', 'ch2')), part };
		// Ch. 2 has P alone; ch. 1 goes to Q, which ch. 3 leaves for R.
		expect(given(plan).map(([aim, , name, trouble]) => [aim, name, trouble])).toEqual([
			['a', 'Q', undefined],
			['b', 'R', undefined],
			['c', 'P', undefined]
		]);
	});
	test('says what cannot be: shared, missing, and none at all', () => {
		const twice = planOf(pulse('a', 'timer-d', 'ch1', { ch1: 'b6' }), pulse('b', 'timer-d', 'ch1'));
		expect(given(twice)[1]).toEqual(['b', 'ch1', 'B6', 'pin-shared']);
		expect(given(planOf(pulse('a', 'timer-d', 'ch1', { ch1: 'a0' })))).toEqual([['a', 'ch1', undefined, 'pin-missing']]);
		const cut = { ...planOf(pulse('a', 'timer-d', 'ch1')), part: { ...demo.part, pins: [{ id: 'p', name: 'P', functions: [] }] } };
		expect(given(cut)).toEqual([['a', 'ch1', undefined, 'pin-none']]);
		const buried = { ...demo.part, pins: [{ id: 'p', name: 'P', functions: ['timer-d.ch1'], ledOut: false }] };
		expect(given({ ...planOf(pulse('a', 'timer-d', 'ch1', { ch1: 'p' })), part: buried })[0][3]).toBe('pin-not-led');
	});
	test('a pair wants both sides, an encoder both inputs, a one-shot its trigger if it has a pin', () => {
		const all = planOf(
			freshAim('pair', 'p', 'p', 'timer-a', {}),
			freshAim('encoder', 'e', 'e', 'timer-b', {}),
			freshAim('oneshot', 'o', 'o', 'timer-e', { input: 'in1' })
		);
		expect(given(all).map(([aim, what, pin]) => `${aim} ${what} ${pin}`)).toEqual([
			'p ch1 A8',
			'p ch1.n B13',
			'e ch1 A0',
			'e ch2 A1',
			'o ch1 C0',
			'o in1 undefined'
		]);
		expect(assignPins(all).some(({ trouble }) => trouble)).toBe(false);
	});
	test('a part that tells nothing of its pins has none to give', () => {
		const { pins, ...part } = demo.part;
		expect(pins?.length).toBe(48);
		expect(assignPins({ ...demo, part })).toEqual([]);
	});
});

describe('how timers are used', () => {
	test('an encoder has both of its channels, a table its second one', () => {
		expect(channelsOf(freshAim('encoder', 'e', 'e', 'timer-b', {}), demo.part)).toEqual(['ch1', 'ch2']);
		expect(channelsOf(freshAim('table', 't', 't', 'timer-b', { second: 'ch3' }), demo.part)).toEqual(['ch1', 'ch3']);
		expect(channelsOf(freshAim('tick', 't', 't', 'timer-b', {}), demo.part)).toEqual([]);
	});
	test('a tick shares a period or a free run, or nothing', () => {
		const kind = (mode: 'up' | 'free' | 'tap') => aimKind('tick').timerUse(freshAim('tick', 't', 't', 'timer-b', { mode }));
		expect([kind('up'), kind('free'), kind('tap')]).toEqual(['period', 'free', 'alone']);
	});
	test('a tick takes its interval from the pulses of its timer, and is told when that is not its own', () => {
		const heater = { ...freshAim('pwm', 'h', 'heater', 'timer-d', { channel: 'ch1' }), rate: '1 kHz' };
		const tick = (every: string) => freshAim('tick', 't', 'tick', 'timer-d', { every });
		const made = derivePlan(planOf(heater, tick('1 ms'))).aims[1];
		expect([made.sharedWith?.name, made.problems]).toEqual(['heater', []]);
		expect(derivePlan(planOf(heater, tick('2 ms'))).aims[1].problems.map(({ code }) => code)).toEqual(['reload-shared']);
	});
});
