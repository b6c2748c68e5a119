import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** Main and complementary output of one channel with dead time between them. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('pair'),
	channel: ident,
	rate: typed,
	tolerance: typed,
	duty: typed,
	/** The least dead time. */
	dead: typed,
	/** Periods that are skipped between updates. */
	repeat: typed
});

export type PairAim = z.infer<typeof schema>;
