import { z } from 'zod';
import { countingMode, head, locks, typed } from '../common/schema.js';

/** An event at even times: to the processor, or to hardware. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('tick'),
	/** How the timer counts for it. */
	mode: countingMode,
	/** A period or a rate. */
	every: typed,
	tolerance: typed,
	notice: z.enum(['interrupt', 'polling', 'hardware']),
	/** Core cycles from the event to the software's write, and of the whole service. */
	service: typed,
	/** Two readings of the counter, for the time between them; empty: not asked. */
	from: typed,
	to: typed
});

export type TickAim = z.infer<typeof schema>;
