import type { Rational } from '../../exact/index.js';
import { figureOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { steadyQuantities, wishedAs, type PlannedQuantity } from '../common/expect.js';
import { linkQuantities, type RegisterQuantities } from '../common/quantities.js';
import type { FollowerAim } from './schema.js';

/** As pulses, with delay and phase to its leader where the leader gives the period (timers.md 13). */
export function expectFollower(derivation: AimDerivation<FollowerAim>): PlannedQuantity[] {
	const [lag, degrees] = [figureOf(derivation, 'lag'), figureOf(derivation, 'lag-degrees')];
	const { action } = derivation.aim;
	// A gate holds pulses back, so they are not steady.
	const steady = action === 'gate' ? [] : steadyQuantities(derivation);
	if (!lag || !degrees || steady.length === 0) return steady;
	const wish = derivation.wishes?.lag;
	const turn = (time: Rational) => time.mul(degrees).div(lag);
	const { value, absolute } = wish ?? {};
	const phase = value && absolute && lag.sign > 0 ? { value: turn(value), absolute: turn(absolute) } : undefined;
	const [first, firstDegrees] = [figureOf(derivation, 'lag-first'), figureOf(derivation, 'degrees-first')];
	return [
		...steady,
		{ of: 'delay', line: 'pin', against: 'leader', planned: lag, unit: 's', ...wishedAs(wish) },
		{ of: 'phase', line: 'pin', against: 'leader', planned: degrees, unit: 'deg', ...wishedAs(phase) },
		...(first && firstDegrees
			? [
					{ of: 'delay' as const, line: 'pin', against: 'first', planned: first, unit: 's' },
					{ of: 'phase' as const, line: 'pin', against: 'first', planned: firstDegrees, unit: 'deg' }
				]
			: [])
	];
}

/** Its own timer's links, and what the trigger does. */
export function setFollower(derivation: AimDerivation<FollowerAim>): RegisterQuantities {
	const { aim, route } = derivation;
	const set = linkQuantities(derivation, aim.channel);
	return route ? { ...set, trigger: route.input, action: route.action } : set;
}
