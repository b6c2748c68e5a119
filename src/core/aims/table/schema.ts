import { z } from 'zod';
import { align, head, ident, locks, pasted, typed, updates } from '../common/schema.js';

/** Rows of compare values, one an update, that shape a slow wave on a carrier. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('table'),
	channel: ident,
	/** The way of counting; "auto": the timer's usual one. */
	align,
	/** Where up-down counting updates; "auto": once a period where the timer can. */
	updates,
	/** A second output; empty: none. */
	second: typed,
	/** Further outputs on the same timer, each with a column of the own shape. */
	further: z.array(ident).max(16),
	shape: z.enum(['sine', 'triangle', 'third-harmonic', 'trapezoid', 'own']),
	/** Values of the own shape, -1 to 1 or in percent, a column an output; a time in a row is its period. */
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
	/** Slow legs of a bridge, switched by software: which one carries the half wave that its output shapes. */
	legs: z.enum(['none', 'switched']),
	/** Their pins, as typed; empty: not said. */
	plus: typed,
	minus: typed,
	/** Rows after the one that crosses zero until they are switched, and the time with both off. */
	legsAfter: typed,
	legsDead: typed,
	/** What averages the pin: a resistor and a capacitor, or a coil and a capacitor with the resistor as the load; only looked at. */
	filter: z.enum(['rc', 'lc']),
	resistance: typed,
	capacitance: typed,
	inductance: typed
});

export type TableAim = z.infer<typeof schema>;
