import { z } from 'zod';
import { head, locks, typed } from '../common/schema.js';

/** A position counted from two quadrature inputs. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('encoder'),
	cycles: typed,
	times: z.enum(['1', '2', '4']),
	range: typed,
	ends: z.enum(['wrap', 'clamp']),
	/** The index of the timer's filter; "none". */
	filter: typed,
	/** The greatest speed. */
	speed: typed,
	/** The count at first: counts, or turns. */
	start: typed,
	/** What the first and the last count stand for, in any one unit; empty: no mapping. */
	low: typed,
	high: typed,
	/** The aim whose duty the count sets, from `low` to `high`; empty: none. */
	drives: typed
});

export type EncoderAim = z.infer<typeof schema>;
