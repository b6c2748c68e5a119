import { Rational } from '../../exact/index.js';
import { linkOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { wishedAs, type PlannedQuantity } from '../common/expect.js';
import type { DividedAim } from './schema.js';

/** The frame's rate and the width of every output that pulses (timers.md 13). */
export function expectDivided(derivation: AimDerivation<DividedAim>): PlannedQuantity[] {
	const { interval, counted } = derivation.run;
	const frame = linkOf(derivation, 'factors');
	if (!interval || frame === undefined) return [];
	const rate = interval.seconds.mul(Rational.int(frame)).inverse();
	const frameWish = derivation.wishes?.frame;
	const wished = frameWish && { ...frameWish, value: frameWish.value.inverse() };
	return (counted ?? [])
		.filter(({ ticks }) => ticks > 0 && ticks < frame)
		.flatMap(({ name, ticks }): PlannedQuantity[] => [
			{ of: 'frequency', line: name, planned: rate, unit: 'Hz', ...wishedAs(wished) },
			{ of: 'high', line: name, planned: interval.seconds.mul(Rational.int(ticks)), unit: 's' }
		]);
}
