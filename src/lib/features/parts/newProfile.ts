import { PROFILE_VERSION } from '../../../core/part/index.js';

/** A profile to begin with: one crystal, one timer with one channel, valid as it stands. */
export function newProfileText(): string {
	const profile = {
		version: PROFILE_VERSION,
		id: 'my-part',
		name: 'My part',
		summary: '',
		clock: [
			{ id: 'crystal', name: 'Crystal', kind: 'source', hz: '16000000', ppm: { lo: '-50', hi: '50' }, chosen: true },
			{ id: 'core', name: 'Core', kind: 'divide', from: 'crystal', by: [1, 2, 4, 8], reset: 1 }
		],
		core: 'core',
		timers: [
			{
				id: 'timer-1',
				name: 'Timer 1',
				kernel: 'core',
				prescaler: { kind: 'linear', max: 65536 },
				width: 16,
				modes: ['up'],
				rule: 'inclusive',
				channels: [{ id: 'ch1', name: 'channel 1', outputs: [{ model: 'level', sense: 'below' }] }]
			}
		],
		pins: [{ id: 'p1', name: 'P1', functions: ['timer-1.ch1'] }]
	};
	return JSON.stringify(profile, null, '\t');
}
