import { steadyQuantities } from '../common/expect.js';
import type { AimKind } from '../common/kind.js';
import { pulseChannels, pulseOn } from '../common/places.js';
import { linkQuantities } from '../common/quantities.js';
import { buildPwm } from './build.js';
import { derivePwm } from './derive.js';
import { schema, type PwmAim } from './schema.js';

/** Steady pulses on one channel. */
export const pwmKind: AimKind<PwmAim> = {
	kind: 'pwm',
	schema,
	fresh: {
		channel: 'ch1',
		align: 'auto',
		output: 'auto',
		rate: '1 kHz',
		tolerance: '0.1 %',
		duty: '50 %',
		bits: '8 bits',
		polarity: 'high',
		begin: '',
		sweep: '',
		over: '1 s',
		writes: 'buffered'
	},
	drives: true,
	leads: true,
	compareCanChange: true,
	mainFigures: ['rate', 'duty'],
	timerUse: () => 'period',
	channels: ({ channel }) => [channel],
	serves: (timer) => pulseChannels(timer).length > 0,
	channelsOn: pulseChannels,
	settle(aim, timer, free) {
		const channels = pulseChannels(timer).filter((channel) => pulseOn(timer, channel, aim));
		return channels.length === 0 ? undefined : { ...aim, channel: free(channels) };
	},
	join: (aim, { rate, tolerance }) => ({ ...aim, rate, tolerance }),
	derive: derivePwm,
	build: buildPwm,
	expect: (derivation) => steadyQuantities(derivation),
	set: (derivation) => linkQuantities(derivation, derivation.aim.channel)
};
