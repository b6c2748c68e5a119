import { FREE, linkOf, repeated, timerFor, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { servedTimes } from '../common/setup.js';
import type { DividedAim } from './schema.js';

/** Pulses counted by software: each high from the frame's first tick on. The timer itself only ticks. */
export function buildDivided(builder: SystemBuilder, derivation: AimDerivation<DividedAim>): Unplanned | undefined {
	const { lanes, base } = builder;
	const { interval, counted } = derivation.run;
	const frame = linkOf(derivation, 'factors');
	if (!interval || frame === undefined || !counted) return 'not-derived';
	const { value } = interval;
	// On a counter that others share each has a compare of its own, which software moves on.
	const alone = builder.alone(derivation.aim.timer);
	timerFor(builder, derivation, alone ? { ...FREE, mode: 'advance', reload: value, advance: value } : FREE);
	const tick = interval.seconds.mul(base).toNumber();
	for (const { name, ticks } of counted) {
		// Served once at the most, the count never comes to a frame's end.
		const counts = servedTimes(derivation.aim) === 'always';
		const edges = counts && ticks > 0 && ticks < frame ? [ticks * tick, frame * tick] : [];
		const trace = repeated(base.inverse(), ticks > 0 ? 1 : 0, edges, frame * tick);
		lanes.push({ aim: derivation.aim.id, role: name, shows: { kind: 'level', trace }, detail: false });
	}
	return undefined;
}
