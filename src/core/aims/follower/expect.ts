import { figureOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { steadyQuantities, type PlannedQuantity } from '../common/expect.js';
import { linkQuantities, type RegisterQuantities } from '../common/quantities.js';
import type { FollowerAim } from './schema.js';

/** As pulses, with delay and phase to its leader where the leader gives the period (timers.md 13). */
export function expectFollower(derivation: AimDerivation<FollowerAim>): PlannedQuantity[] {
	const [lag, degrees] = [figureOf(derivation, 'lag'), figureOf(derivation, 'lag-degrees')];
	const { action } = derivation.aim;
	// A gate holds pulses back, so they are not steady.
	const steady = action === 'gate' ? [] : steadyQuantities(derivation);
	if (!lag || !degrees || steady.length === 0) return steady;
	return [
		...steady,
		{ of: 'delay', line: 'pin', against: 'leader', planned: lag, unit: 's' },
		{ of: 'phase', line: 'pin', against: 'leader', planned: degrees, unit: 'deg' }
	];
}

/** Its own timer's links, and what the trigger does. */
export function setFollower(derivation: AimDerivation<FollowerAim>): RegisterQuantities {
	const { aim, route } = derivation;
	const set = linkQuantities(derivation, aim.channel);
	return route ? { ...set, trigger: route.input, action: route.action } : set;
}
