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
	note: z.string().max(2000),
	/** Is its output enabled, its interrupt, and is the event's flag cleared where it is served? Left out: yes. */
	enable: z.enum(['on', 'off']).optional(),
	interrupt: z.enum(['on', 'off']).optional(),
	flag: z.enum(['cleared', 'kept']).optional(),
	/** The interrupt's priority as it is set, and the one that its service is written for; left out: not said. */
	priority: typed.optional(),
	handler: typed.optional()
};

/** Links of the strip that are held, by name. */
export const locks = z.record(ident, typed);

/** The ways of counting (timers.md 3). */
export const countingMode = z.enum(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear']);

/** The way of counting to a reload; "auto": the timer's usual one. */
export const align = z.enum(['auto', 'up', 'down', 'updown']);
/** Where up-down counting updates; "auto": once a period where the timer can. */
export const updates = z.enum(['auto', 'bottom', 'top', 'both']);

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
	readonly enable?: 'on' | 'off' | undefined;
	readonly interrupt?: 'on' | 'off' | undefined;
	readonly flag?: 'cleared' | 'kept' | undefined;
	readonly priority?: string | undefined;
	readonly handler?: string | undefined;
}
