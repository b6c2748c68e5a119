import type { AimKind } from '../common/kind.js';
import { pulseChannels } from '../common/places.js';
import { buildFollower } from './build.js';
import { deriveFollower } from './derive.js';
import { expectFollower, setFollower } from './expect.js';
import { schema, type FollowerAim } from './schema.js';

/** A timer that another aim's event starts, resets, gates or clocks. */
export const followerKind: AimKind<FollowerAim> = {
	kind: 'follower',
	schema,
	fresh: {
		leader: 'none',
		action: 'start',
		source: 'auto',
		input: 'auto',
		lag: '120 deg',
		lagTolerance: '1 deg',
		channel: 'ch1',
		rate: '1 kHz',
		tolerance: '0.1 %',
		duty: '50 %'
	},
	drives: true,
	leads: true,
	compareCanChange: true,
	mainFigures: ['lag-degrees', 'rate'],
	timerUse: ({ action }) => (action === 'gate' || action === 'clock' ? 'driven' : 'period'),
	channels: ({ channel }) => [channel],
	leader: ({ leader }) => leader,
	serves: (timer) => (timer.inputs ?? []).length > 0 && pulseChannels(timer).length > 0,
	channelsOn: pulseChannels,
	settle: (aim, timer, free) => ({ ...aim, channel: free(pulseChannels(timer)) }),
	derive: deriveFollower,
	build: buildFollower,
	expect: expectFollower,
	set: setFollower
};
