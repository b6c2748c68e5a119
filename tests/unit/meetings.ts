import { freshAim, type Aim } from '../../src/core/aims/index.js';
import { shippedPart, type PartProfile, type TimerProfile } from '../../src/core/part/index.js';
import { fernhollow, fernhollowVane, type Plan } from '../../src/core/plan/index.js';

const demo = fernhollow();
const planOf = (...aims: Aim[]): Plan => ({ ...demo, aims });
const pwm = (id: string, timer: string, change: object = {}) => freshAim('pwm', id, id, timer, { rate: '1.2 kHz', bits: '0', ...change });

/** The demo's part with one timer changed. */
export function withTimer(id: string, change: Partial<TimerProfile>): PartProfile {
	const heron = shippedPart('heron-32')!;
	return { ...heron, timers: heron.timers.map((timer) => (timer.id === id ? { ...timer, ...change } : timer)) };
}

/** The part with a first channel of timer A that is low while its rule says active. */
function lowActive(): PartProfile {
	const [first, ...rest] = shippedPart('heron-32')!.timers.find(({ id }) => id === 'timer-a')!.channels;
	const outputs = [{ model: 'action' as const, edge: 'leave' as const, zero: 'low' as const, matchUp: 'high' as const }];
	return withTimer('timer-a', { channels: [{ ...first, outputs }, ...rest] });
}

const shape = (id: string, channel: string, change: object) =>
	freshAim('table', id, id, 'timer-a', { channel, carrier: '20 kHz', base: '500 Hz', ...change });

/** Plans in which two features meet. */
export const MEETINGS: [string, () => Plan][] = [
	[
		'a repeat count is that of all pairs on a timer',
		() =>
			planOf(
				freshAim('pair', 'a', 'a', 'timer-a', { rate: '1 kHz', repeat: '1' }),
				freshAim('pair', 'b', 'b', 'timer-a', { channel: 'ch2', rate: '1 kHz', repeat: '0' })
			)
	],
	[
		'a shape and a tick go by the repeat count of a pair on their timer',
		() =>
			planOf(
				freshAim('pair', 'a', 'a', 'timer-a', { rate: '20 kHz', repeat: '3' }),
				shape('s', 'ch2', { base: '100 Hz' }),
				freshAim('tick', 't', 't', 'timer-a', { mode: 'up', every: '200 us', service: '0' })
			)
	],
	[
		'what follows the updates of a timer with a repeat count follows fewer of them',
		() =>
			planOf(
				freshAim('pair', 'a', 'a', 'timer-a', { rate: '4 kHz', repeat: '3' }),
				freshAim('follower', 'f', 'f', 'timer-d', { leader: 'a', action: 'clock', rate: '100 Hz', lag: '0' })
			)
	],
	[
		'a follower that is clocked does not share its timer with an aim that counts the clock',
		() =>
			planOf(
				pwm('l', 'timer-b'),
				freshAim('pair', 'p', 'p', 'timer-a', { rate: '20 kHz' }),
				freshAim('follower', 'f', 'f', 'timer-a', { leader: 'l', channel: 'ch2', action: 'clock', rate: '20 kHz' })
			)
	],
	[
		'two followers on one timer have one trigger',
		() =>
			planOf(
				pwm('l', 'timer-b'),
				freshAim('follower', 'f', 'f', 'timer-d', { leader: 'l', channel: 'ch1', lag: '120 deg' }),
				freshAim('follower', 'g', 'g', 'timer-d', { leader: 'l', channel: 'ch2', lag: '240 deg', lagTolerance: '180 deg', duty: '20 %' })
			)
	],
	[
		'an up-down leader’s match resets its follower twice a period, but at the turns',
		() =>
			planOf(
				pwm('l', 'timer-e', { align: 'updown', rate: '250 Hz' }),
				freshAim('follower', 'f', 'f', 'timer-h', { leader: 'l', action: 'reset', lag: '2/3' })
			)
	],
	[
		'a follower of a match that the leader itself drives has the lag of that compare',
		() =>
			planOf(
				pwm('l', 'timer-b', { duty: '30 %' }),
				freshAim('follower', 'f', 'f', 'timer-d', { leader: 'l', source: 'match:ch1', lag: '30 %', lagTolerance: '1 %' })
			)
	],
	[
		'words of a timer that updates at both ends come twice a period',
		() => ({
			...planOf(freshAim('pattern', 'p', 'p', 'timer-g', { rate: '10 kHz' })),
			part: withTimer('timer-g', { modes: ['updown'], update: ['both'] })
		})
	],
	[
		'so do rows of a shape',
		() => ({ ...planOf(shape('s', 'ch1', {})), part: withTimer('timer-a', { modes: ['updown'], update: ['both'] }) })
	],
	['two shapes on one timer', () => planOf(shape('a', 'ch1', {}), shape('b', 'ch2', { base: '400 Hz', shape: 'triangle' }))],
	[
		'a shape written at once beside one that is buffered',
		() => planOf(shape('a', 'ch1', { writes: 'immediate', lag: '0' }), shape('b', 'ch2', { base: '400 Hz' }))
	],
	[
		'a toggled pin of an exclusive down counter',
		() => ({ ...fernhollowVane(), aims: [freshAim('toggle', 't', 't', 'counter-b', { channel: 'out1', rate: '100 Hz' })] })
	],
	[
		'a pair on an output that is low first',
		() => ({ ...planOf(freshAim('pair', 'p', 'p', 'timer-a', { rate: '1 kHz', duty: '30 %' })), part: lowActive() })
	],
	['a shape on an output that is low first', () => ({ ...planOf(shape('s', 'ch1', {})), part: lowActive() })]
];
