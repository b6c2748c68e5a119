import { addChannel, details, outputOf, pinLane, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { PairAim } from './schema.js';

/** Both outputs of the channel, and the reference that they are made from. */
export function buildPair(builder: SystemBuilder, derivation: AimDerivation<PairAim>): Unplanned | undefined {
	const { aim, run, pulse } = derivation;
	const { base, lanes } = builder;
	const timer = timerFor(builder, derivation);
	if (!timer || !pulse || !run.dead) return 'not-derived';
	const dead = Number(run.dead.mul(base).roundHalfUp()) / timer.kernel;
	const output = outputOf(pulse);
	addChannel(timer, { id: aim.channel, compare: pulse.compare, output, dead, inverted: false });
	const name = `${timer.id}.${aim.channel}`;
	lanes.push(
		{ aim: aim.id, role: 'reference', shows: { kind: 'reference', timer: timer.id, channel: aim.channel }, detail: true },
		pinLane(aim.id, 'main', name),
		pinLane(aim.id, 'complementary', `${name}.n`)
	);
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
