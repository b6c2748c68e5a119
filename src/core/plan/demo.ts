import { shippedPart, type PartProfile } from '../part/index.js';
import { PLAN_VERSION, type Aim, type Plan } from './document.js';

/** A fresh PWM aim on a timer's channel, met as it stands by most timers. */
export function newPwmAim(id: string, name: string, timer: string, channel: string): Aim {
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

/** The demo: a telescope dome's controller with its first dew heater. */
export function fernhollow(): Plan {
	return {
		...newPlan('Fernhollow Observatory', shippedPart('heron-32')!),
		note: 'Controller of a small telescope dome: dew heaters first.',
		clock: { crystal: '12 MHz', 'loop-source': 'crystal', loop: '12', 'core-source': 'loop-out', 'bus-a': '2', sampler: '6', out: '2' },
		aims: [
			{
				...newPwmAim('heater-a', 'dew heater A', 'timer-a', 'ch1'),
				rate: '1.2 kHz',
				tolerance: '0.1 %',
				duty: '35 %',
				bits: '10 bits'
			}
		]
	};
}
