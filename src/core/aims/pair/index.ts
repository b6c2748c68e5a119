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
	fresh: { channel: 'ch1', rate: '20 kHz', tolerance: '0.5 %', duty: '50 %', dead: '1 us', repeat: '0' },
	leads: true,
	compareCanChange: true,
	mainFigures: ['rate', 'duty'],
	timerUse: () => 'period',
	channels: ({ channel }) => [channel],
	pins: ({ channel }) => [{ what: `${channel}.n` }],
	serves: (timer) => channelsOn(timer).length > 0,
	channelsOn,
	settle: (aim, timer, free) => ({ ...aim, channel: free(channelsOn(timer)) }),
	derive: derivePair,
	build: buildPair,
	expect: expectPair,
	set: (derivation) => linkQuantities(derivation, derivation.aim.channel)
};

function channelsOn(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => channel.complement !== undefined && pulseOn(timer, channel) !== undefined);
}
