import { z } from 'zod';
import { head, ident, locks, typed } from '../common/schema.js';

/** A clock and data lines sent to a port, a word an update. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('pattern'),
	/** Words a second. */
	rate: typed,
	tolerance: typed,
	lines: z
		.array(
			z.strictObject({
				id: ident,
				name: typed,
				pin: typed,
				/** The port's bit. */
				bit: typed,
				/** A level a word: 0 or 1. */
				levels: z
					.string()
					.max(4096)
					.regex(/^[01]*$/)
			})
		)
		.min(1)
		.max(32),
	loop: z.enum(['yes', 'no']),
	/** Core cycles from the update to the word at the port, at the least and at the most. */
	least: typed,
	most: typed
});

export type PatternAim = z.infer<typeof schema>;
