import { addChannel, details, outputOf, pinLane, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import type { FollowerAim } from './schema.js';

/** The follower's own channel, its trigger, and the compare of its leader that raises it. */
export function buildFollower(builder: SystemBuilder, derivation: AimDerivation<FollowerAim>): Unplanned | undefined {
	const { aim, route, pulse } = derivation;
	const timer = timerFor(builder, derivation);
	const leader = route && builder.derivationOf(route.leader);
	const leading = leader?.timer && builder.timers.get(leader.timer.id);
	if (!timer || !route || !pulse || !leading) return 'not-derived';
	addChannel(timer, {
		id: aim.channel,
		compare: pulse.compare,
		output: outputOf(pulse),
		inverted: false
	});
	timer.trigger ??= { from: { timer: leading.id, event: route.source }, action: aim.action, latency: route.latency };
	if (aim.action === 'start') timer.start = 'trigger';
	// A channel of the leader's that no aim drives only compares; its reference is never active.
	const [, channel] = route.source.split(':');
	if (channel !== undefined) addChannel(leading, { id: channel, compare: route.lead ?? 0, output: { model: 'none' }, inverted: false });
	builder.lanes.push(pinLane(aim.id, 'pin', `${timer.id}.${aim.channel}`));
	details(builder, aim.id, timer, aim.channel);
	return undefined;
}
