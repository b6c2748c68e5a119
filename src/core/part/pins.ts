import { z } from 'zod';
import { id, links, name } from './words.js';

/** What a pin can be: "TIMER.CHANNEL", "TIMER.CHANNEL.n" for a complementary output, "TIMER.INPUT", or "clock.NODE". */
const pinFunction = z.string().regex(/^[a-z][a-z0-9-]*\.[a-z][a-z0-9-]*(\.n)?$/, 'format:function-wanted');

export const pin = z.strictObject({
	id,
	name,
	links,
	functions: z.array(pinFunction).max(64),
	/** The port that it is a line of, and its bit there: a word written to the port sets both. */
	port: z.strictObject({ name, bit: z.int().min(0).max(63) }).optional(),
	/** False: not led out on this package. */
	ledOut: z.boolean().optional()
});

/** One row of the trigger wiring: which events of a timer reach which input of another. */
export const route = z.strictObject({
	from: z.strictObject({ timer: id, sources: z.array(z.string().max(60)).min(1).max(64) }),
	to: z.strictObject({ timer: id, input: id })
});

export type PinProfile = z.infer<typeof pin>;
export type Route = z.infer<typeof route>;
