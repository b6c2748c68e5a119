import { z } from 'zod';
import type { Prescaler } from './prescaler.js';
import { factors, id, links, name, positive, whole } from './words.js';

/**
 * A timer as a part profile has it (timers.md 2 to 9). What is left out, the timer cannot do. Channels, trigger inputs
 * and the timer's own events are named by words: "update", "start", "overflow", "trigger", "match:CH", "level:CH",
 * "capture:CH".
 */
const prescaler: z.ZodType<Prescaler> = z.lazy(() =>
	z.discriminatedUnion('kind', [
		/** Any ratio of 1 to max; the register holds one less. */
		z.strictObject({ kind: z.literal('linear'), max: positive }),
		/** Ratio 0: stopped. */
		z.strictObject({
			kind: z.literal('ladder'),
			steps: z
				.array(z.strictObject({ ratio: whole, code: whole }))
				.min(1)
				.max(256)
		}),
		z.strictObject({ kind: z.literal('fixed'), ratio: positive }),
		z.strictObject({ kind: z.literal('chain'), stages: z.array(prescaler).min(1).max(4) })
	])
);

const action = z.enum(['low', 'high', 'toggle']);

/** An output model with its preset (timers.md 5); an action that is left out does nothing. */
export const output = z.discriminatedUnion('model', [
	z.strictObject({ model: z.literal('level'), sense: z.enum(['below', 'above']) }),
	z.strictObject({
		model: z.literal('action'),
		edge: z.enum(['enter', 'leave']),
		initial: z.union([z.literal(0), z.literal(1)]).optional(),
		zero: action.optional(),
		top: action.optional(),
		matchUp: action.optional(),
		matchDown: action.optional()
	})
]);

/** An input filter accepts a level after so many equal samples, one every `divide` kernel cycles. */
const filter = z.strictObject({ samples: positive, divide: positive, code: whole.optional() });
const filters = z.array(filter).min(1).max(64).optional();

/** D = base + (code - from) x step for codes from..to, in cycles of the dead-time clock. */
const segment = z.strictObject({ from: whole, to: whole, base: whole, step: positive });

const channel = z.strictObject({
	id,
	name,
	links,
	/** Output models to choose from, the usual one first; none: an input only. */
	outputs: z.array(output).max(16),
	/** A complementary output with dead time. */
	complement: z
		.strictObject({
			segments: z.array(segment).min(1).max(16),
			/** The dead-time clock; left out: the kernel clock. */
			clock: id.optional(),
			/** Rise and fall have dead times of their own. */
			separate: z.boolean().optional()
		})
		.optional(),
	capture: z
		.strictObject({
			edges: z
				.array(z.enum(['rise', 'fall', 'both']))
				.min(1)
				.max(3),
			/** Every n-th edge is captured. */
			every: z.array(positive).min(1).max(16),
			filters,
			/** Kernel cycles that the synchroniser adds, both ends included. */
			delay: z.strictObject({ from: whole, to: whole }).optional()
		})
		.optional(),
	/** Two compares in up-down counting, for asymmetric pulses. */
	secondCompare: z.boolean().optional()
});

const input = z.strictObject({
	id,
	name,
	links,
	actions: z
		.array(z.enum(['start', 'reset', 'restart', 'gate', 'clock', 'capture']))
		.min(1)
		.max(6),
	/** Kernel cycles from being seen to acting. */
	latency: z.int().min(0).max(3),
	filters
});

const event = z.string().regex(/^(start|update|overflow|trigger|(match|level|capture):[a-z][a-z0-9-]{0,39})$/, 'format:event-wanted');
const buffering = z.enum(['always', 'never', 'either']);

export const timerProfile = z.strictObject({
	id,
	name,
	links,
	/** The clock node that enters the prescaler. */
	kernel: id,
	/** The gate that must be open for the timer to be reached. */
	gate: id.optional(),
	prescaler,
	/** Divides the overflow event. */
	postscale: factors.optional(),
	/** Bits of the counter. */
	width: z.int().min(4).max(32),
	/** Ways of counting, the usual one first. */
	modes: z
		.array(z.enum(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear']))
		.min(1)
		.max(8),
	rule: z.enum(['inclusive', 'exclusive']),
	/** Who loads the counter again in the mode `preload`. */
	preload: z.enum(['hardware', 'software']).optional(),
	/** Bits that can be tapped in the mode `tap`. */
	tap: z.strictObject({ from: whole, to: whole }).optional(),
	/** Where up-down counting can update. Left out: at the bottom. */
	update: z
		.array(z.enum(['bottom', 'top', 'both']))
		.min(1)
		.max(3)
		.optional(),
	/** The largest repeat count. */
	repeat: whole.optional(),
	/** Left out: always. The prescale is buffered in any case. */
	buffered: z.strictObject({ reload: buffering, compare: buffering }).optional(),
	/** Buffers and prescale can be taken at once. */
	loadNow: z.boolean().optional(),
	/** What a further trigger does while a one-shot runs. */
	oneShot: z
		.strictObject({
			retrigger: z
				.array(z.enum(['ignore', 'restart']))
				.min(1)
				.max(2)
		})
		.optional(),
	channels: z.array(channel).max(32),
	/** Two channels as quadrature inputs. */
	encoder: z
		.strictObject({
			a: id,
			b: id,
			times: z
				.array(z.union([z.literal(1), z.literal(2), z.literal(4)]))
				.min(1)
				.max(3),
			filters,
			index: z.boolean().optional()
		})
		.optional(),
	/** Trigger inputs. */
	inputs: z.array(input).max(16).optional(),
	/** Events the timer can send to others. */
	sources: z.array(event).max(64).optional(),
	/** A switch for all outputs, levels they idle at, a fault input that forces them. */
	outputEnable: z.strictObject({ idle: z.boolean(), fault: z.boolean() }).optional(),
	interrupts: z
		.array(z.strictObject({ name, on: z.array(event).min(1).max(64) }))
		.max(64)
		.optional(),
	/** Events that can ask for a paced transfer. */
	paced: z.array(event).max(64).optional()
});

export type TimerProfile = z.infer<typeof timerProfile>;
export type ChannelProfile = TimerProfile['channels'][number];
export type InputProfile = z.infer<typeof input>;
export type OutputProfile = z.infer<typeof output>;
export type CountingMode = TimerProfile['modes'][number];
export type FilterProfile = z.infer<typeof filter>;
