import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** A timer that another aim's event starts, resets, gates or clocks. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('follower'),
	leader: ident,
	action: z.enum(['start', 'reset', 'gate', 'clock']),
	/** The leader's event: "auto", or as the profile names it. */
	source: typed,
	/** The timer's trigger input: "auto", or its id. */
	input: typed,
	/** A time, an angle, or a share of the leader's period. */
	lag: typed,
	lagTolerance: typed,
	channel: ident,
	/** The own rate, where the leader's does not decide. */
	rate: typed,
	tolerance: typed,
	duty: typed
});

export type FollowerAim = z.infer<typeof schema>;
