import type { ChannelProfile, TimerProfile } from '../../part/index.js';
import type { AimKind } from '../common/kind.js';
import { buildListening } from '../common/listen.js';
import { linkQuantities } from '../common/quantities.js';
import { deriveWidth } from './derive.js';
import { listenWidth } from './listen.js';
import { schema, type WidthAim } from './schema.js';

/** A pulse's width by capture of both its edges. */
export const widthKind: AimKind<WidthAim> = {
	kind: 'width',
	schema,
	fresh: {
		channel: 'ch1',
		level: 'high',
		shortest: '100 us',
		longest: '25 ms',
		step: '1 %',
		overflows: 'not-counted',
		service: '60',
		filter: 'none',
		each: '',
		unit: ''
	},
	leads: false,
	inputs: {
		offers: ['echo', 'square', 'recorded'],
		lines: ['input'],
		rest: ({ level }) => (level === 'low' ? 1 : 0),
		suggests: ({ shortest, longest }) => ({ from: shortest, to: longest })
	},
	mainFigures: ['step-short', 'longest'],
	served: () => true,
	timerUse: () => 'free',
	channels: ({ channel }) => [channel],
	serves: (timer) => channelsOn(timer).length > 0,
	channelsOn: channelsOn,
	settle: (aim, timer, free) => ({ ...aim, channel: free(channelsOn(timer)) }),
	derive: deriveWidth,
	build: (builder, derivation) => buildListening(builder, derivation, listenWidth),
	expect: () => [],
	set: (derivation) => linkQuantities(derivation, derivation.aim.channel)
};

function channelsOn(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => channel.capture?.edges.some((edge) => edge !== 'rise'));
}
