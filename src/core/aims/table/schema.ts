import { z } from 'zod';
import { head, ident, locks, pasted, typed } from '../common/schema.js';

/** Rows of compare values, one an update, that shape a slow wave on a carrier. */
export const schema = z.strictObject({
	...head,
	locks,
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

export type TableAim = z.infer<typeof schema>;
