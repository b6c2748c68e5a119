import { Rational } from '../../exact/index.js';
import type { ChannelProfile, TimerProfile } from '../../part/index.js';
import { pulsing } from '../common/expect.js';
import type { AimKind } from '../common/kind.js';
import { linkQuantities } from '../common/quantities.js';
import { buildToggle } from './build.js';
import { deriveToggle, togglingOn } from './derive.js';
import { schema, type ToggleAim } from './schema.js';

/** A clock made by toggling a pin once a period. */
export const toggleKind: AimKind<ToggleAim> = {
	kind: 'toggle',
	schema,
	fresh: { channel: 'ch1', rate: '1 kHz', tolerance: '0.1 %' },
	drives: true,
	leads: true,
	mainFigures: ['rate'],
	timerUse: () => 'period',
	channels: ({ channel }) => [channel],
	serves: (timer) => channelsOn(timer).length > 0,
	channelsOn,
	settle: (aim, timer, free) => ({ ...aim, channel: free(channelsOn(timer)) }),
	derive: deriveToggle,
	build: buildToggle,
	expect({ figures, wishes }) {
		const rate = figures.find(({ name }) => name === 'rate')?.value;
		const half = Rational.ratio(1, 2);
		return rate ? pulsing('pin', { rate, duty: half }, { rate: wishes?.rate, duty: { value: half } }) : [];
	},
	set: (derivation) => linkQuantities(derivation, derivation.aim.channel)
};

function channelsOn(timer: TimerProfile): ChannelProfile[] {
	return timer.channels.filter((channel) => togglingOn(timer, channel) !== undefined);
}
