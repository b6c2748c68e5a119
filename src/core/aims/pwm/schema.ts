import { z } from 'zod';
import { align, head, ident, typed } from '../common/schema.js';

/** Steady pulses on one channel. */
export const schema = z.strictObject({
	...head,
	kind: z.literal('pwm'),
	channel: ident,
	/** The way of counting; "auto": the timer's usual one. */
	align,
	/** The index of the channel's output model; "auto": the first that makes pulses. */
	output: typed,
	/** A rate or a period. */
	rate: typed,
	/** How far off the rate may be. */
	tolerance: typed,
	/** A duty, an on-time, an off-time or ticks. */
	duty: typed,
	/** Least duty resolution. */
	bits: typed,
	polarity: z.enum(['high', 'low']),
	/** The duty at first, and the one swept to within a time; empty: none. */
	begin: typed,
	sweep: typed,
	over: typed,
	/** How new compare values are taken. */
	writes: z.enum(['buffered', 'immediate']),
	/** Links of the strip that are held, as typed. */
	locks: z.strictObject({ prescale: typed.optional(), reload: typed.optional(), compare: typed.optional() })
});

export type PwmAim = z.infer<typeof schema>;
