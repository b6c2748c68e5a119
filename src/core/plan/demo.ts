import { shippedPart, type PartProfile } from '../part/index.js';
import { PLAN_VERSION, type Plan, type PwmAim } from './document.js';

/** A fresh PWM aim on a timer's channel, met as it stands by most timers. */
export function newPwmAim(id: string, name: string, timer: string, channel: string): PwmAim {
	return {
		id,
		kind: 'pwm',
		name,
		timer,
		channel,
		rate: '1 kHz',
		tolerance: '0.1 %',
		duty: '50 %',
		bits: '8 bits',
		polarity: 'high',
		locks: {},
		note: ''
	};
}

/** An empty plan on a part, of which it keeps this snapshot. */
export function newPlan(name: string, part: PartProfile): Plan {
	return { version: PLAN_VERSION, name, note: '', part, clock: {}, labels: {}, wishes: [], held: [], aims: [], mappings: [] };
}

/** The demo: a telescope dome's controller. */
export function fernhollow(): Plan {
	return {
		...newPlan('Fernhollow Observatory', shippedPart('heron-32')!),
		note: 'Controller of a small telescope dome.',
		clock: { crystal: '12 MHz', 'loop-source': 'crystal', loop: '12', 'core-source': 'loop-out', 'bus-a': '2', sampler: '6', out: '2' },
		aims: [
			{ ...newPwmAim('heater-a', 'dew heater A', 'timer-a', 'ch1'), rate: '1.2 kHz', tolerance: '0.1 %', duty: '35 %', bits: '10 bits' },
			{
				id: 'azimuth',
				kind: 'encoder',
				name: 'azimuth encoder',
				timer: 'timer-b',
				cycles: '4096',
				times: '4',
				range: '1 turn',
				ends: 'wrap',
				filter: '3',
				speed: '6 rpm',
				note: ''
			},
			{
				id: 'wind',
				kind: 'capture',
				name: 'wind cups',
				timer: 'timer-c',
				channel: 'ch1',
				lowest: '2 Hz',
				highest: '200 Hz',
				step: '0.2 %',
				every: 'auto',
				overflows: 'not-counted',
				service: '60',
				note: ''
			},
			{
				id: 'shutter',
				kind: 'oneshot',
				name: 'shutter',
				timer: 'timer-d',
				channel: 'ch1',
				input: 'ext',
				edge: 'rise',
				delay: '500 us',
				width: '20 ms',
				tolerance: '0.1 %',
				retrigger: 'ignore',
				note: 'The dome-home switch bounces: edges within the pulse are ignored.'
			},
			{
				id: 'system-tick',
				kind: 'tick',
				name: 'system tick',
				timer: 'timer-g',
				mode: 'up',
				every: '10 ms',
				tolerance: '0.01 %',
				notice: 'interrupt',
				service: '120',
				note: ''
			}
		]
	};
}

/** The satellite board that dims the dome's lamp. */
export function fernhollowLamp(): Plan {
	return {
		...newPlan('Fernhollow lamp board', shippedPart('sprat-8')!),
		note: 'The 8-bit satellite board in the dome: one lamp, dimmed without flicker.',
		clock: { source: 'crystal', core: '1' },
		labels: { twelfth: { name: '', note: 'Timers 3 and 4 tick once in twelve core cycles.' } },
		aims: [{ ...newPwmAim('lamp', 'lamp dimmer', 'timer-1', 'a'), rate: '400 Hz', tolerance: '0.5 %', duty: '20 %', bits: '10 bits' }]
	};
}

/** The weather vane's board with its flaps. */
export function fernhollowVane(): Plan {
	return {
		...newPlan('Fernhollow vane board', shippedPart('plover-16')!),
		note: 'The 16-bit board at the mast: it moves the vane’s flaps.',
		clock: { main: 'crystal', side: '2' },
		aims: [
			{ ...newPwmAim('flap-a', 'vane flap A', 'counter-a', 'out1'), rate: '50 Hz', tolerance: '0.1 %', duty: '1.5 ms on', bits: '10 bits' }
		]
	};
}
