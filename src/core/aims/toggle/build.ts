import type { SimOutput } from '../../sim/index.js';
import { addChannel, details, linkOf, pinLane, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { ToggleAim } from './schema.js';

/** A channel whose match toggles its output. */
export function buildToggle(builder: SystemBuilder, derivation: AimDerivation<ToggleAim>): Unplanned | undefined {
	const { aim } = derivation;
	const timer = timerFor(builder, derivation);
	const compare = linkOf(derivation, 'compare');
	if (!timer || compare === undefined) return 'not-derived';
	const output: SimOutput = {
		model: 'action',
		edge: 'enter',
		initial: 0,
		zero: 'none',
		top: 'none',
		matchUp: 'toggle',
		matchDown: 'toggle'
	};
	addChannel(timer, { id: aim.channel, compare, output, inverted: false });
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
