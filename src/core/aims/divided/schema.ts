import { z } from 'zod';
import { countingMode, head, ident, locks, typed } from '../common/schema.js';

/** Several pulses counted out of one tick by software. */
export const schema = z.strictObject({
	...head,
	locks,
	kind: z.literal('divided'),
	mode: countingMode,
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

export type DividedAim = z.infer<typeof schema>;
