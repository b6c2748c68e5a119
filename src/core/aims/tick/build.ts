import {
	counterLane,
	cyclesOf,
	figureOf,
	FREE,
	linkOf,
	repeated,
	timerFor,
	type CountingWay,
	type LaneContent,
	type SystemBuilder,
	type Unplanned
} from '../common/build.js';
import type { AimDerivation, Run } from '../common/derivation.js';
import { StretchedTrace } from '../../trace/index.js';
import { servedTimes } from '../common/setup.js';
import type { TickAim } from './schema.js';

/** A tick: its events, and what serving them costs. */
export function buildTick(builder: SystemBuilder, derivation: AimDerivation<TickAim>): Unplanned | undefined {
	const { aim, run } = derivation;
	const { lanes, base, core } = builder;
	if (!run.interval) return 'not-derived';
	const timer = timerFor(builder, derivation, wayOf(aim, run.interval, builder.alone(aim.timer)));
	if (!timer) return 'not-derived';
	const service = aim.notice === 'hardware' || !core ? undefined : figureOf(derivation, 'service');
	// On a counter that runs freely each tick has a compare of its own, which software moves on.
	// A postscaler lets only some of the updates through.
	const apart = (aim.mode === 'advance' && timer.mode !== 'advance') || (linkOf(derivation, 'postscale') ?? 1) > 1;
	const interval = run.interval.ticks * timer.prescale * timer.kernel;
	const times = aim.notice === 'interrupt' ? servedTimes(aim) : 'always';
	const shows: LaneContent = {
		kind: 'events',
		...(times === 'once'
			? { own: new StretchedTrace(base.inverse(), 0, Float64Array.of(interval), []) }
			: apart
				? { own: repeated(base.inverse(), 0, [interval], interval) }
				: { timer: timer.id }),
		...(aim.notice === 'interrupt' && times !== 'never' && { interrupts: true }),
		...(service && times !== 'never' && { busy: cyclesOf(builder, service) })
	};
	lanes.push({ aim: aim.id, role: 'events', shows, detail: false });
	lanes.push(counterLane(aim.id, timer));
	return undefined;
}

/** How the counter counts where no reload ends the count. */
function wayOf({ mode }: TickAim, { value, late }: NonNullable<Run['interval']>, alone: boolean): CountingWay {
	switch (mode) {
		case 'advance':
			return alone ? { ...FREE, mode, reload: value, advance: value } : FREE;
		case 'preload':
			return { ...FREE, mode, preload: value, late };
		case 'tap':
			return { ...FREE, mode, bit: value };
		case 'clear':
			return { ...FREE, mode, reload: value, late };
		default:
			return FREE;
	}
}
