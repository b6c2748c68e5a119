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

/** Links of the strip that are held, by name. */
export const locks = z.record(ident, typed);

/** The ways of counting (timers.md 3). */
export const countingMode = z.enum(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear']);

/** What every kind of aim has; the rest is the kind's own. */
export interface AnyAim {
	readonly kind: string;
	readonly id: string;
	readonly name: string;
	readonly group: string;
	readonly timer: string;
	readonly pins: Readonly<Record<string, string>>;
	readonly note: string;
	readonly locks: Readonly<Record<string, string | undefined>>;
}
