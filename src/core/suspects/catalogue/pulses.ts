import type { AimDerivation } from '../../aims/index.js';
import type { Rational } from '../../exact/index.js';
import { largest, nearestActive } from '../../timer/index.js';
import { type Changed, rewritten } from '../change.js';
import type { Group } from '../scene.js';

export type Pulse = NonNullable<AimDerivation['pulse']>;

/** Pulses of a group with a compare of their own. */
export function pulses({ aims, system }: Group): { one: AimDerivation; pulse: Pulse; channel: string }[] {
	return aims.flatMap((one) => {
		const channel = (one.aim as { channel?: unknown }).channel;
		const known = typeof channel === 'string' && system.timers.some(({ id, sequences }) => id === one.timer?.id && !sequences);
		return one.pulse && known ? [{ one, pulse: one.pulse, channel }] : [];
	});
}

export function compared(group: Group, { one, pulse, channel }: ReturnType<typeof pulses>[number], compare: number | undefined): Changed[] {
	const timer = group.system.timers.find(({ id }) => id === one.timer!.id)!;
	if (compare === undefined || compare === pulse.compare || compare > largest(timer.width)) return [];
	const next = rewritten(group.system, timer, { name: 'compare', channel }, () => compare);
	return next ? [{ where: { timer: timer.id, channel, what: 'compare', planned: pulse.compare, found: compare }, system: next }] : [];
}

export const compareFor = ({ counting, reload, rule }: Pulse, active: Rational) => nearestActive(counting, reload, rule, active)?.compare;
