import { linkOf, repeated, type SystemBuilder, type Unplanned } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { servedTimes } from '../common/setup.js';
import type { DividedAim } from './schema.js';

/** Pulses counted by software: each high from the frame's first tick on. */
export function buildDivided({ lanes, base }: SystemBuilder, derivation: AimDerivation<DividedAim>): Unplanned | undefined {
	const { interval, counted } = derivation.run;
	const frame = linkOf(derivation, 'factors');
	if (!interval || frame === undefined || !counted) return 'not-derived';
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
