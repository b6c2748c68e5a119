import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** One pulse after a trigger. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('oneshot'),
	channel: ident,
	/** What each shot does with the pin: a pulse, or one turn of its level. */
	each: z.enum(['pulse', 'toggle']),
	input: ident,
	edge: z.enum(['rise', 'fall']),
	delay: typed,
	width: typed,
	tolerance: typed,
	retrigger: z.enum(['ignore', 'restart']),
	/** For how long the trigger may bounce; empty: not at all. */
	bounce: typed
});

export type OneShotAim = z.infer<typeof schema>;
