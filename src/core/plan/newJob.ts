import { toggles } from './jobs/toggle.js';
import { pulseOn } from './places.js';
import type { PartProfile, TimerProfile } from '../part/index.js';
import type { JobAim, JobKind } from './jobs/index.js';

/** A fresh aim of a kind on the first timer that can do it and is free, or can do it at all; undefined where the part has none. */
export function newJob(kind: JobKind, id: string, name: string, part: PartProfile, taken: ReadonlySet<string>): JobAim | undefined {
	const able = part.timers.filter((timer) => canDo(kind, timer));
	const timer = able.find((one) => !taken.has(one.id)) ?? able[0];
	if (!timer) return undefined;
	const head = { id, name, timer: timer.id, note: '' };
	switch (kind) {
		case 'tick':
			return { ...head, kind, mode: timer.modes[0], every: '1 ms', tolerance: '0.1 %', notice: 'interrupt', service: '40' };
		case 'capture':
			return {
				...head,
				kind,
				channel: timer.channels.find((c) => c.capture)!.id,
				lowest: '10 Hz',
				highest: '1 kHz',
				step: '1 %',
				every: 'auto',
				overflows: 'not-counted',
				service: '60'
			};
		case 'encoder':
			return {
				...head,
				kind,
				cycles: '256',
				times: String(timer.encoder!.times.at(-1)) as '4',
				range: '1 turn',
				ends: 'wrap',
				filter: 'none',
				speed: '60 rpm'
			};
		case 'toggle':
			return { ...head, kind, channel: toggleChannels(timer)[0].id, rate: '1 kHz', tolerance: '0.1 %' };
		case 'pair':
			return {
				...head,
				kind,
				channel: pairChannels(timer)[0].id,
				rate: '20 kHz',
				tolerance: '0.5 %',
				duty: '50 %',
				dead: '1 us',
				repeat: '0'
			};
		case 'oneshot': {
			const input = timer.inputs!.find((one) => one.actions.includes('start'))!;
			return {
				...head,
				kind,
				channel: pulseChannels(timer)[0].id,
				input: input.id,
				edge: 'rise',
				delay: '100 us',
				width: '1 ms',
				tolerance: '0.5 %',
				retrigger: timer.oneShot!.retrigger[0]
			};
		}
	}
}

/** Can the timer do such a job at all? */
export function canDo(kind: JobKind, timer: TimerProfile): boolean {
	switch (kind) {
		case 'tick':
			return true;
		case 'capture':
			return timer.channels.some((channel) => channel.capture !== undefined);
		case 'encoder':
			return timer.encoder !== undefined;
		case 'toggle':
			return toggleChannels(timer).length > 0;
		case 'pair':
			return pairChannels(timer).length > 0;
		case 'oneshot':
			return (
				timer.oneShot !== undefined &&
				timer.modes.includes('up') &&
				pulseChannels(timer).length > 0 &&
				(timer.inputs ?? []).some((one) => one.actions.includes('start'))
			);
	}
}

/** Channels that can toggle once a period. */
export function toggleChannels(timer: TimerProfile): TimerProfile['channels'] {
	return timer.channels.filter((channel) => timer.modes.some((mode) => (mode === 'up' || mode === 'down') && toggles(channel, mode)));
}

/** Channels with a complementary output. */
export function pairChannels(timer: TimerProfile): TimerProfile['channels'] {
	return timer.channels.filter((channel) => channel.complement !== undefined && pulseOn(timer, channel) !== undefined);
}

/** Channels whose output can be active above the compare, as a pulse after a delay is. */
export function pulseChannels(timer: TimerProfile): TimerProfile['channels'] {
	return timer.channels.filter((channel) => channel.outputs.some((output) => output.model === 'level' && output.sense === 'above'));
}
