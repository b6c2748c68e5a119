import { Rational } from '../../exact/index.js';
import { linkOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { PlannedQuantity } from '../common/expect.js';
import type { DividedAim } from './schema.js';

/** The frame's rate and the width of every output that pulses (timers.md 13). */
export function expectDivided(derivation: AimDerivation<DividedAim>): PlannedQuantity[] {
	const { interval, counted } = derivation.run;
	const frame = linkOf(derivation, 'factors');
	if (!interval || frame === undefined) return [];
	const rate = interval.seconds.mul(Rational.int(frame)).inverse();
	return (counted ?? [])
		.filter(({ ticks }) => ticks > 0 && ticks < frame)
		.flatMap(({ name, ticks }): PlannedQuantity[] => [
			{ of: 'frequency', line: name, planned: rate, unit: 'Hz' },
			{ of: 'high', line: name, planned: interval.seconds.mul(Rational.int(ticks)), unit: 's' }
		]);
}
