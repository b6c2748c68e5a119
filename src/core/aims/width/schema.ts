import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** A pulse's width by capture of both its edges, taken when it lies in a window. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('width'),
	channel: ident,
	level: z.enum(['high', 'low']),
	/** Widths from shortest to longest are accepted. */
	shortest: typed,
	longest: typed,
	/** The wished step, relative to the shortest. */
	step: typed,
	overflows: z.enum(['counted', 'not-counted']),
	service: typed,
	filter: typed,
	/** What a width means: so long for one of the unit. Empty: just a time. */
	each: typed,
	unit: typed
});

export type WidthAim = z.infer<typeof schema>;
