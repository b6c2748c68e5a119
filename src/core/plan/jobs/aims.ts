import { z } from 'zod';
import { head as common, ident, pasted, typed } from '../words.js';

/** Aims besides pulses, one shape each; every number is kept as typed. `locks`: links of the strip that are held, by name. */
const head = { ...common, locks: z.record(ident, typed) };

const mode = z.enum(['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear']);

/** An event at even times: to the processor, or to hardware. */
export const tickAim = z.strictObject({
	...head,
	kind: z.literal('tick'),
	/** How the timer counts for it. */
	mode,
	/** A period or a rate. */
	every: typed,
	tolerance: typed,
	notice: z.enum(['interrupt', 'polling', 'hardware']),
	/** Core cycles from the event to the software's write, and of the whole service. */
	service: typed,
	/** Two readings of the counter, for the time between them; empty: not asked. */
	from: typed,
	to: typed
});

/** A frequency measured by the time between edges, by counting edges for a gate time, or by whichever is finer. */
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
	service: typed,
	/** The index of the channel's filter; "none". */
	filter: typed,
	method: z.enum(['capture', 'gated', 'switched']),
	/** Gate time of counted edges. */
	gate: typed
});

/** A pulse's width by capture of both its edges, taken when it lies in a window. */
export const widthAim = z.strictObject({
	...head,
	kind: z.literal('width'),
	channel: ident,
	level: z.enum(['high', 'low']),
	/** Widths from shortest to longest are accepted. */
	shortest: typed,
	longest: typed,
	/** The wished step, relative to the shortest. */
	step: typed,
	overflows: z.enum(['counted', 'not-counted']),
	service: typed,
	filter: typed,
	/** What a width means: so long for one of the unit. Empty: just a time. */
	each: typed,
	unit: typed
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
	speed: typed,
	/** The count at first: counts, or turns. */
	start: typed,
	/** What the first and the last count stand for, in any one unit; empty: no mapping. */
	low: typed,
	high: typed
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
	retrigger: z.enum(['ignore', 'restart']),
	/** For how long the trigger may bounce; empty: not at all. */
	bounce: typed
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

/** Several pulses counted out of one tick by software. */
export const dividedAim = z.strictObject({
	...head,
	kind: z.literal('divided'),
	mode,
	/** A period or a rate of the tick. */
	every: typed,
	tolerance: typed,
	service: typed,
	/** The period of the pulses, counted in ticks. */
	frame: typed,
	frameTolerance: typed,
	/** The largest factor that a software counter holds. */
	factor: typed,
	outputs: z
		.array(z.strictObject({ id: ident, name: typed, pin: typed, width: typed }))
		.min(1)
		.max(64)
});

/** A timer that another aim's event starts, resets, gates or clocks. */
export const followerAim = z.strictObject({
	...head,
	kind: z.literal('follower'),
	leader: ident,
	action: z.enum(['start', 'reset', 'gate', 'clock']),
	/** The leader's event: "auto", or as the profile names it. */
	source: typed,
	/** The timer's trigger input: "auto", or its id. */
	input: typed,
	/** A time, an angle, or a share of the leader's period. */
	lag: typed,
	lagTolerance: typed,
	channel: ident,
	/** The own rate, where the leader's does not decide. */
	rate: typed,
	tolerance: typed,
	duty: typed
});

/** Rows of compare values, one an update, that shape a slow wave on a carrier. */
export const tableAim = z.strictObject({
	...head,
	kind: z.literal('table'),
	channel: ident,
	/** A second output; empty: none. */
	second: typed,
	shape: z.enum(['sine', 'triangle', 'third-harmonic', 'trapezoid', 'own']),
	/** Values of the own shape, -1 to 1 or in percent; a second column is a period a row. */
	own: pasted,
	carrier: typed,
	tolerance: typed,
	base: typed,
	baseTolerance: typed,
	amplitude: typed,
	offset: typed,
	wave: z.enum(['full', 'half']),
	writes: z.enum(['buffered', 'immediate']),
	/** Core cycles from an update to the write of its row. */
	lag: typed,
	prefill: z.enum(['yes', 'no']),
	/** What averages the pin: a resistor and a capacitor, or a coil and a capacitor with the resistor as the load; only looked at. */
	filter: z.enum(['rc', 'lc']),
	resistance: typed,
	capacitance: typed,
	inductance: typed
});

/** A clock and data lines sent to a port, a word an update. */
export const patternAim = z.strictObject({
	...head,
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

export const jobAims = [
	tickAim,
	captureAim,
	widthAim,
	encoderAim,
	oneShotAim,
	toggleAim,
	pairAim,
	dividedAim,
	followerAim,
	tableAim,
	patternAim
] as const;

export type TickAim = z.infer<typeof tickAim>;
export type CaptureAim = z.infer<typeof captureAim>;
export type WidthAim = z.infer<typeof widthAim>;
export type EncoderAim = z.infer<typeof encoderAim>;
export type OneShotAim = z.infer<typeof oneShotAim>;
export type ToggleAim = z.infer<typeof toggleAim>;
export type PairAim = z.infer<typeof pairAim>;
export type DividedAim = z.infer<typeof dividedAim>;
export type FollowerAim = z.infer<typeof followerAim>;
export type TableAim = z.infer<typeof tableAim>;
export type PatternAim = z.infer<typeof patternAim>;
export type JobAim = z.infer<(typeof jobAims)[number]>;
export type JobKind = JobAim['kind'];
