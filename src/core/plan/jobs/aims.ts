import { z } from 'zod';
import { ident, typed } from '../words.js';

/** Aims besides pulses, one shape each; every number is kept as typed. */
const head = { id: ident, name: typed, timer: ident, note: z.string().max(2000) };

/** An event at even times: to the processor, or to hardware. */
export const tickAim = z.strictObject({
	...head,
	kind: z.literal('tick'),
	/** How the timer counts for it. */
	mode: z.enum(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear']),
	/** A period or a rate. */
	every: typed,
	tolerance: typed,
	notice: z.enum(['interrupt', 'polling', 'hardware']),
	/** Core cycles from the event to the software's write, and of the whole service. */
	service: typed
});

/** A frequency measured by the time between edges. */
export const captureAim = z.strictObject({
	...head,
	kind: z.literal('capture'),
	channel: ident,
	lowest: typed,
	highest: typed,
	/** The relative step that is wished for over the whole range. */
	step: typed,
	/** "auto", or every so manieth edge. */
	every: typed,
	overflows: z.enum(['counted', 'not-counted']),
	service: typed
});

/** A position counted from two quadrature inputs. */
export const encoderAim = z.strictObject({
	...head,
	kind: z.literal('encoder'),
	cycles: typed,
	times: z.enum(['1', '2', '4']),
	range: typed,
	ends: z.enum(['wrap', 'clamp']),
	/** The index of the timer's filter; "none". */
	filter: typed,
	/** The greatest speed. */
	speed: typed
});

/** One pulse after a trigger. */
export const oneShotAim = z.strictObject({
	...head,
	kind: z.literal('oneshot'),
	channel: ident,
	input: ident,
	edge: z.enum(['rise', 'fall']),
	delay: typed,
	width: typed,
	tolerance: typed,
	retrigger: z.enum(['ignore', 'restart'])
});

/** A clock made by toggling a pin once a period: half the event rate. */
export const toggleAim = z.strictObject({ ...head, kind: z.literal('toggle'), channel: ident, rate: typed, tolerance: typed });

/** Main and complementary output of one channel with dead time between them. */
export const pairAim = z.strictObject({
	...head,
	kind: z.literal('pair'),
	channel: ident,
	rate: typed,
	tolerance: typed,
	duty: typed,
	/** The least dead time. */
	dead: typed,
	/** Periods that are skipped between updates. */
	repeat: typed
});

export type TickAim = z.infer<typeof tickAim>;
export type CaptureAim = z.infer<typeof captureAim>;
export type EncoderAim = z.infer<typeof encoderAim>;
export type OneShotAim = z.infer<typeof oneShotAim>;
export type ToggleAim = z.infer<typeof toggleAim>;
export type PairAim = z.infer<typeof pairAim>;
export type JobAim = TickAim | CaptureAim | EncoderAim | OneShotAim | ToggleAim | PairAim;
export type JobKind = JobAim['kind'];
