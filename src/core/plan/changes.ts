import { z } from 'zod';
import { ident, typed } from '../aims/index.js';

/** New values of one timer while it runs; a value that is left empty is not written. */
export const changeRow = z.strictObject({
	id: ident,
	/** A time; means nothing where rows come with the updates. */
	at: typed,
	/** A rate, a period or ticks, as a new reload. */
	rate: typed,
	prescale: typed,
	/** A duty, an on-time or ticks, by channel. */
	duties: z.record(ident, typed)
});

export const changeList = z.strictObject({
	id: ident,
	timer: ident,
	/** Rows at their own times, or one every n-th update. */
	pace: z.enum(['times', 'updates']),
	every: typed,
	/** Core cycles from the update to the first write, and between the writes of a row. */
	lag: typed,
	apart: typed,
	order: z.enum(['reload-first', 'compares-first']),
	loop: z.enum(['yes', 'no']),
	rows: z.array(changeRow).max(500)
});

export type ChangeList = z.infer<typeof changeList>;
export type ChangeRow = z.infer<typeof changeRow>;
