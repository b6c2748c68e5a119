import { z } from 'zod';
import { ident, typed } from './schema.js';

/** What comes to an aim's inputs while it runs. Every number is kept as typed. */
export const stimulus = z.discriminatedUnion('kind', [
	/** A square wave whose edges may jitter by up to so much to either side. */
	z.strictObject({ kind: z.literal('square'), rate: typed, duty: typed, jitter: typed, over: typed }),
	/** A square wave whose rate goes from one to another: evenly, or by the same ratio in the same time. */
	z.strictObject({
		kind: z.literal('sweep'),
		from: typed,
		to: typed,
		duty: typed,
		over: typed,
		course: z.enum(['even', 'ratio']).optional()
	}),
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
	/** A recorded line; an encoder's second one too; and what the firmware said that it read meanwhile, line by line. */
	z.strictObject({ kind: z.literal('recorded'), recording: typed, line: typed, second: typed, log: z.string().max(100_000) })
]);

export type Stimulus = z.infer<typeof stimulus>;
export type StimulusKind = Stimulus['kind'];
