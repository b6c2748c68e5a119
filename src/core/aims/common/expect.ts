import { Rational } from '../../exact/index.js';
import type { AimDerivation, Unit } from './derivation.js';

/** A quantity that a pin should show, as a recording can be held against it (timers.md 13). */
export interface PlannedQuantity {
	of: 'frequency' | 'high' | 'duty' | 'delay' | 'phase' | 'gap' | 'interval' | 'width';
	/** The role of the line: "pin", "main", "complementary", or an output's or line's own name. */
	line: string;
	/** The role of the line that a delay or phase is measured from; "leader" is another aim's pin. */
	against?: string;
	planned: Rational;
	unit: Unit;
}

/** Frequency, high width and duty of a pin that pulses steadily. `line`: its role. */
export function steadyQuantities({ pulse }: AimDerivation, line = 'pin'): PlannedQuantity[] {
	if (!pulse) return [];
	const turned = pulse.activeLow !== pulse.inverted;
	const duty = turned ? Rational.one.sub(pulse.duty) : pulse.duty;
	return [
		{ of: 'frequency', line, planned: pulse.hz, unit: 'Hz' },
		{ of: 'high', line, planned: duty.mul(pulse.period), unit: 's' },
		{ of: 'duty', line, planned: duty, unit: '%' }
	];
}
