import { readQuantity } from '../../exact/index.js';
import { StretchedTrace } from '../../trace/index.js';
import type { PlannedLane, SystemBuilder } from './build.js';
import type { AimDerivation } from './derivation.js';
import type { AimKind } from './kind.js';
import type { AnyAim } from './schema.js';

/** How often software serves an aim's events: always, once because the flag stays set, or never. */
export function servedTimes({ interrupt, flag }: AnyAim): 'always' | 'once' | 'never' {
	if (interrupt === 'off') return 'never';
	return flag === 'kept' ? 'once' : 'always';
}

/** What an aim's output and interrupt are left short of. */
export function checkSetup(kind: AimKind, { aim, problems, timer }: AimDerivation): void {
	if (!timer) return;
	if (kind.drives && aim.enable === 'off') problems.push({ code: 'output-off', severity: 'fault', timer: timer.name });
	if (!kind.served?.(aim)) return;
	const times = servedTimes(aim);
	if (times === 'never') problems.push({ code: 'interrupt-off', severity: 'fault', timer: timer.name });
	if (times === 'once') problems.push({ code: 'flag-kept', severity: 'fault', timer: timer.name });
	const [priority, handler] = [aim.priority?.trim() ?? '', aim.handler?.trim() ?? ''];
	if (priority !== '' && handler !== '' && !sameNumber(priority, handler))
		problems.push({ code: 'priority-differs', severity: 'fault', priority, handler });
}

function sameNumber(one: string, other: string): boolean {
	const [a, b] = [readQuantity(one), readQuantity(other)];
	return one === other || (a.ok && b.ok && a.quantity.dimension === b.quantity.dimension && a.quantity.value.equals(b.quantity.value));
}

/** Pins of an output that is not enabled rest at their inactive level (timers.md 16). */
export function restPins(builder: SystemBuilder, { aim, pulse }: AimDerivation): void {
	if (aim.enable !== 'off') return;
	const rest = new StretchedTrace(builder.base.inverse(), pulse?.activeLow ? 1 : 0, new Float64Array(0), []);
	const shows: PlannedLane['shows'] = { kind: 'level', trace: rest };
	builder.lanes.forEach((lane, i) => {
		if (lane.aim === aim.id && lane.shows.kind === 'pin') builder.lanes[i] = { ...lane, shows };
	});
}
