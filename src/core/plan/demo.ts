import { shippedPart, type PartProfile } from '../part/index.js';
import { freshAim, type Aim } from '../aims/index.js';
import { PLAN_VERSION, type Plan } from './document.js';

/** An empty plan on a part, of which it keeps this snapshot. */
export function newPlan(name: string, part: PartProfile): Plan {
	return {
		version: PLAN_VERSION,
		name,
		note: '',
		part,
		clock: {},
		labels: {},
		wishes: [],
		held: [],
		aims: [],
		mappings: [],
		marks: [],
		zero: '',
		cards: [],
		instruments: [],
		readings: [],
		sweeps: [],
		stimuli: {},
		layings: {},
		changes: []
	};
}

/** The demo: a telescope dome's controller. */
export function fernhollow(): Plan {
	return {
		...newPlan('Fernhollow Observatory', shippedPart('heron-32')!),
		note: 'Controller of a small telescope dome.',
		clock: { crystal: '12 MHz', 'loop-source': 'crystal', loop: '12', 'core-source': 'loop-out', 'bus-a': '2', sampler: '6', out: '2' },
		aims: [...heaters(), ...drives(), ...sensing()]
	};
}

/** Three dew heaters, each a third of a period behind the one before. */
function heaters(): Aim[] {
	return [
		freshAim('pwm', 'heater-a', 'dew heater A', 'timer-d', {
			group: 'dew heaters',
			rate: '1.2 kHz',
			tolerance: '0.1 %',
			duty: '35 %',
			bits: '10 bits'
		}),
		freshAim('follower', 'heater-b', 'dew heater B', 'timer-h', {
			group: 'dew heaters',
			leader: 'heater-a',
			lag: '1/3',
			lagTolerance: '0.1 deg',
			duty: '35 %'
		}),
		freshAim('follower', 'heater-c', 'dew heater C', 'timer-c', {
			group: 'dew heaters',
			leader: 'heater-a',
			lag: '2/3',
			lagTolerance: '0.1 deg',
			duty: '35 %'
		})
	];
}

function drives(): Aim[] {
	return [
		freshAim('pair', 'dome-motor', 'dome motor', 'timer-a', {
			group: 'drives',
			rate: '20 kHz',
			tolerance: '0.1 %',
			duty: '60 %',
			dead: '500 ns'
		}),
		freshAim('table', 'focus-coil', 'focus coil', 'timer-a', {
			group: 'drives',
			channel: 'ch4',
			carrier: '20 kHz',
			tolerance: '0.1 %',
			base: '125 Hz',
			baseTolerance: '0.1 %',
			amplitude: '40 %',
			offset: '50 %'
		})
	];
}

/** What turns with the dome, blows, and keeps time. */
function sensing(): Aim[] {
	return [
		freshAim('encoder', 'azimuth', 'azimuth encoder', 'timer-b', {
			group: 'dome',
			cycles: '4096',
			filter: '3',
			speed: '6 rpm',
			low: '0 deg',
			high: '360 deg'
		}),
		freshAim('oneshot', 'shutter', 'shutter', 'timer-e', {
			group: 'dome',
			delay: '500 us',
			width: '20 ms',
			tolerance: '0.1 %',
			bounce: '5 ms',
			note: 'The dome-home switch bounces: edges within the pulse are ignored.'
		}),
		freshAim('capture', 'wind', 'wind cups', 'timer-f', { lowest: '2 Hz', highest: '200 Hz', step: '0.2 %' }),
		freshAim('pattern', 'strobe', 'serial strobe', 'timer-g', {
			rate: '200 kHz',
			lines: [
				{ id: 'clock', name: 'strobe clock', pin: 'A12', bit: '12', levels: '0101010101010101' },
				{ id: 'left', name: 'strobe left', pin: 'A13', bit: '13', levels: '1100110000111100' },
				{ id: 'right', name: 'strobe right', pin: 'A14', bit: '14', levels: '0011001111110000' }
			]
		}),
		freshAim('tick', 'system-tick', 'system tick', 'core-down', { mode: 'down', every: '10 ms', tolerance: '0.01 %', service: '120' })
	];
}

/** The satellite board that dims the dome's lamp. */
export function fernhollowLamp(): Plan {
	return {
		...newPlan('Fernhollow lamp board', shippedPart('sprat-8')!),
		note: 'The 8-bit satellite board in the dome: one lamp, dimmed without flicker.',
		clock: { source: 'crystal', core: '1' },
		labels: { twelfth: { name: '', note: 'Timers 3 and 4 tick once in twelve core cycles.' } },
		aims: [
			freshAim('pwm', 'lamp', 'lamp dimmer', 'timer-1', { channel: 'a', rate: '400 Hz', tolerance: '0.5 %', duty: '20 %', bits: '10 bits' })
		]
	};
}

/** The weather vane's board with its flaps. */
export function fernhollowVane(): Plan {
	return {
		...newPlan('Fernhollow vane board', shippedPart('plover-16')!),
		note: 'The 16-bit board at the mast: it moves the vane’s flaps.',
		clock: { main: 'crystal', side: '2' },
		aims: [
			freshAim('divided', 'flaps', 'vane flaps', 'core-count', {
				mode: 'advance',
				every: '20 us',
				frame: '20 ms',
				service: '60',
				outputs: [
					{ id: 'flap-a', name: 'flap A', pin: 'P1', width: '1.5 ms' },
					{ id: 'flap-b', name: 'flap B', pin: 'P2', width: '1.2 ms' },
					{ id: 'flap-c', name: 'flap C', pin: 'P7', width: '1.8 ms' }
				]
			})
		]
	};
}

/** The hand controller: a knob that dims the reading lamp. */
export function fernhollowHand(): Plan {
	return {
		...newPlan('Fernhollow hand controller', shippedPart('heron-32')!),
		note: 'Held in the dark: one knob, one lamp.',
		clock: { crystal: '12 MHz', 'loop-source': 'crystal', loop: '12', 'core-source': 'loop-out', 'bus-a': '2', sampler: '6', out: '2' },
		aims: [
			freshAim('pwm', 'reading-lamp', 'reading lamp', 'timer-d', {
				channel: 'ch1',
				rate: '1 kHz',
				tolerance: '0.1 %',
				duty: '25 %',
				bits: '10 bits'
			}),
			freshAim('encoder', 'knob', 'lamp knob', 'timer-b', {
				cycles: '24',
				range: '1 turn',
				ends: 'clamp',
				filter: '3',
				speed: '120 rpm',
				low: '0 %',
				high: '100 %',
				drives: 'reading-lamp'
			})
		]
	};
}
