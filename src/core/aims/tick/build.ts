import {
	counterLane,
	cyclesOf,
	figureOf,
	FREE,
	repeated,
	timerFor,
	type CountingWay,
	type LaneContent,
	type SystemBuilder,
	type Unplanned
} from '../common/build.js';
import type { AimDerivation, Run } from '../common/derivation.js';
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
	const apart = aim.mode === 'advance' && timer.mode !== 'advance';
	const interval = run.interval.ticks * timer.prescale * timer.kernel;
	const shows: LaneContent = {
		kind: 'events',
		...(apart ? { own: repeated(base.inverse(), 0, [interval], interval) } : { timer: timer.id }),
		...(aim.notice === 'interrupt' && { interrupts: true }),
		...(service && { busy: cyclesOf(builder, service) })
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
