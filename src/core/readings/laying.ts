import { readOffset, readShift, type Field } from '../aims/index.js';
import { MILLION, Rational, type Seconds } from '../exact/index.js';
import type { Plan } from '../plan/index.js';

/** Where a recording lies on the plan because somebody said so: its time at the plan's time 0, and the ratio of its clock to the plan's. */
export interface HandLaying {
	offset: Seconds;
	ratio: Rational;
}

/** Reads a laying as typed. */
export function readLaying({ offset, ratio }: Plan['layings'][string]): Field<HandLaying> {
	const at = readShift(offset);
	if (!at.ok) return at;
	const ppm = readOffset(ratio);
	if (!ppm.ok) return ppm;
	return { ok: true, value: { offset: at.value, ratio: Rational.one.add(ppm.value.div(MILLION)) } };
}
