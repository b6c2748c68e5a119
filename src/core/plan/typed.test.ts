import { describe, expect, test } from 'vitest';
import { fernhollow, newPlan, placesOf, readTypedAim } from './index.js';

describe('a typed line', () => {
	test.each<[string, string, object]>([
		['1.2 kHz 35 % on B6', 'pwm', { rate: '1.2 kHz', duty: '35 %' }],
		['1.2kHz', 'pwm', { rate: '1.2kHz' }],
		['850 us, 1/3', 'pwm', { rate: '850 us', duty: '1/3' }],
		['20 kHz 60 % pair 500 ns', 'pair', { rate: '20 kHz', duty: '60 %', dead: '500 ns' }],
		['20 kHz pair dead time 1 us', 'pair', { rate: '20 kHz', dead: '1 us' }],
		['every 10 ms', 'tick', { every: '10 ms' }],
		['encoder 0..71', 'encoder', { range: '0..71' }],
		['encoder 2 turns of 100 cycles', 'encoder', { range: '2 turns', cycles: '100' }],
		['measure 2 Hz to 200 Hz', 'capture', { lowest: '2 Hz', highest: '200 Hz' }],
		['measure 1 ms to 20 ms', 'width', { shortest: '1 ms', longest: '20 ms' }],
		['debounce 25 ms', 'oneshot', { bounce: '25 ms', width: '30 ms' }],
		['one-shot 20 ms after 500 us', 'oneshot', { width: '20 ms', delay: '500 us' }],
		['Toggle 1 kHz', 'toggle', { rate: '1 kHz' }],
		['sine 50 Hz on 20 kHz', 'table', { shape: 'sine', base: '50 Hz', carrier: '20 kHz' }],
		['pattern 100 kHz', 'pattern', { rate: '100 kHz' }],
		['follow 120 deg', 'follower', { lag: '120 deg' }]
	])('%s', (line, kind, fields) => expect(readTypedAim(line)).toMatchObject({ kind, fields }));

	test.each(['', 'undo', 'go to bench', '42', 'fast', 'aim: dew heater A', '35 %', 'debounce 3 kHz'])('%s is none', (line) =>
		expect(readTypedAim(line)).toBeUndefined()
	);

	test('goes where its pin leads, with that pin chosen', () => {
		const { part } = fernhollow();
		const [aim] = placesOf(readTypedAim('1.2 kHz 35 % on b6')!, 'a', 'a', newPlan('x', part));
		expect(aim).toMatchObject({ kind: 'pwm', timer: 'timer-d', channel: 'ch1', pins: { ch1: 'b6' }, rate: '1.2 kHz', duty: '35 %' });
		expect(placesOf(readTypedAim('1.2 kHz on Z9')!, 'a', 'a', newPlan('x', part))).toEqual([]);
	});
});
