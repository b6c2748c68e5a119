import { z } from 'zod';

/** Text as typed; the store takes no zero character. */
export const typed = z
	.string()
	.max(120)
	.regex(/^[^\0]*$/);
/** A pasted list. */
export const pasted = z
	.string()
	.max(100_000)
	.regex(/^[^\0]*$/);
export const ident = z.string().min(1).max(64);

/** What every aim has. `pins`: the pins chosen, by the timer's function; what is left out takes the first free one. */
export const head = {
	id: ident,
	name: typed,
	/** A heading of the plan board; empty: none. */
	group: typed,
	timer: ident,
	pins: z.record(ident, ident),
	note: z.string().max(2000)
};
