import { z } from 'zod';
import { ident, typed } from './words.js';

/** What comes to a running plan from outside: signals at its inputs, and what software writes. Every number is kept as typed. */
export const stimulus = z.discriminatedUnion('kind', [
	/** A square wave whose edges may jitter by up to so much to either side. */
	z.strictObject({ kind: z.literal('square'), rate: typed, duty: typed, jitter: typed, over: typed }),
	/** A square wave whose rate goes evenly from one to another. */
	z.strictObject({ kind: z.literal('sweep'), from: typed, to: typed, duty: typed, over: typed }),
	/** A contact that closes, bounces, is held and opens again with as many bounces; `every` empty: once. */
	z.strictObject({
		kind: z.literal('contact'),
		first: typed,
		every: typed,
		times: typed,
		held: typed,
		bounce: typed,
		bounces: typed
	}),
	/** Two signals a quarter apart, at speeds reached evenly one after the other. */
	z.strictObject({
		kind: z.literal('quadrature'),
		legs: z
			.array(z.strictObject({ id: ident, speed: typed, over: typed }))
			.min(1)
			.max(100),
		jitter: typed
	}),
	/** Pulses at an even rate whose width goes evenly from one to another. */
	z.strictObject({ kind: z.literal('echo'), every: typed, from: typed, to: typed, over: typed }),
	/** A recorded line; an encoder's second one too. */
	z.strictObject({ kind: z.literal('recorded'), recording: typed, line: typed, second: typed })
]);

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
	/** Rows at their own times, or one every so manieth update. */
	pace: z.enum(['times', 'updates']),
	every: typed,
	/** Core cycles from the update to the first write, and between the writes of a row. */
	lag: typed,
	apart: typed,
	order: z.enum(['reload-first', 'compares-first']),
	loop: z.enum(['yes', 'no']),
	rows: z.array(changeRow).max(500)
});

export type Stimulus = z.infer<typeof stimulus>;
export type StimulusKind = Stimulus['kind'];
export type ChangeList = z.infer<typeof changeList>;
export type ChangeRow = z.infer<typeof changeRow>;
