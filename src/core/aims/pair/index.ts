import type { ChannelProfile, TimerProfile } from '../../part/index.js';
import type { AimKind } from '../common/kind.js';
import { pulseOn } from '../common/places.js';
import { linkQuantities } from '../common/quantities.js';
import { buildPair } from './build.js';
import { derivePair } from './derive.js';
import { expectPair } from './expect.js';
import { schema, type PairAim } from './schema.js';

/** Main and complementary output of one channel with dead time between them. */
export const pairKind: AimKind<PairAim> = {
	kind: 'pair',
	schema,
	fresh: { channel: 'ch1', align: 'auto', updates: 'auto', rate: '20 kHz', tolerance: '0.5 %', duty: '50 %', dead: '1 us', repeat: '0' },
	drives: true,
	leads: true,
	compareCanChange: true,
	mainFigures: ['rate', 'duty'],
	timerUse: () => 'period',
	repeat: ({ repeat }) => repeat,
	updates: ({ updates }) => updates,
	channels: ({ channel }) => [channel],
	pins: ({ channel }) => [{ what: `${channel}.n` }],
	serves: (timer) => channelsOn(timer).length > 0,
	channelsOn,
	settle(aim, timer, free) {
		const channels = channelsOn(timer).filter((channel) => pulseOn(timer, channel, { align: aim.align, output: 'auto' }));
		return channels.length === 0 ? undefined : { ...aim, channel: free(channels) };
	},
	derive: derivePair,
	build: buildPair,
	expect: expectPair,
	set: (derivation) => linkQuantities(derivation, derivation.aim.channel)
};

function channelsOn(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => channel.complement !== undefined && pulseOn(timer, channel) !== undefined);
}
