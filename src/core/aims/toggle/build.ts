import { actionOutput, addChannel, details, linkOf, pinLane, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { togglingOn } from './derive.js';
import type { ToggleAim } from './schema.js';

/** A channel whose output toggles, as the profile has it. */
export function buildToggle(builder: SystemBuilder, derivation: AimDerivation<ToggleAim>): Unplanned | undefined {
	const { aim } = derivation;
	const timer = timerFor(builder, derivation);
	const channel = derivation.timer?.channels.find(({ id }) => id === aim.channel);
	const toggling = channel && togglingOn(derivation.timer!, channel);
	if (!timer || !toggling) return 'not-derived';
	addChannel(timer, {
		id: aim.channel,
		compare: linkOf(derivation, 'compare') ?? 0,
		output: actionOutput(toggling.output),
		inverted: false
	});
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
