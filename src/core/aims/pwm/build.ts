import { addChannel, bufferedOn, details, outputOf, pinLane, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { PwmAim } from './schema.js';

/** One channel whose compare makes the pulse. */
export function buildPwm(builder: SystemBuilder, { aim, pulse, ...derivation }: AimDerivation<PwmAim>): Unplanned | undefined {
	const timer = timerFor(builder, { aim, ...derivation });
	if (!timer || !pulse) return 'not-derived';
	const output = outputOf(pulse);
	const buffered = bufferedOn(derivation.timer!, aim.writes);
	addChannel(timer, { id: aim.channel, compare: pulse.compare, output, inverted: pulse.activeLow, buffered });
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
