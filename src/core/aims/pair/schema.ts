import { z } from 'zod';
import { align, head, ident, locks, typed, updates } from '../common/schema.js';

/** Main and complementary output of one channel with dead time between them. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('pair'),
	channel: ident,
	/** The way of counting; "auto": the timer's usual one. */
	align,
	/** Where up-down counting updates; "auto": once a period where the timer can. */
	updates,
	rate: typed,
	tolerance: typed,
	duty: typed,
	/** The least dead time. */
	dead: typed,
	/** Periods that are skipped between updates. */
	repeat: typed
});

export type PairAim = z.infer<typeof schema>;
