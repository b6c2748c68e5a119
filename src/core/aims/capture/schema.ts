import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** A frequency measured by the time between edges, by counting edges for a gate time, or by whichever is finer. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('capture'),
	channel: ident,
	lowest: typed,
	highest: typed,
	/** The relative step that is wished for over the whole range. */
	step: typed,
	/** "auto", or every n-th edge. */
	every: typed,
	overflows: z.enum(['counted', 'not-counted']),
	service: typed,
	/** The index of the channel's filter; "none". */
	filter: typed,
	method: z.enum(['capture', 'gated', 'switched']),
	/** Gate time of counted edges. */
	gate: typed
});

export type CaptureAim = z.infer<typeof schema>;
