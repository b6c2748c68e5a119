import type { Seconds } from '../exact/index.js';
import { PeriodicWave, type Level } from '../trace/index.js';
import { activeTicks, plainRule, type OutputRule } from './duty.js';
import { periodTicks, type Counting } from './period.js';

/** A steady PWM setting: everything its wave depends on. */
export interface SteadyPwm {
	counting: Counting;
	reload: number;
	compare: number;
	output: OutputRule;
	/** True: the pin is low while the reference is active. */
	inverted: boolean;
}

/**
 * The wave a running timer makes (timers.md 5), one unit a tick, period 0 starting at the first value held.
 * null where reload 0 blocks the counter. Throws RangeError for values that do not fit the width.
 */
export function steadyWave(setting: SteadyPwm, tick: Seconds): PeriodicWave | null {
	const ticks = periodTicks(setting.counting, setting.reload);
	const active = activeTicks(setting.counting, setting.reload, setting.output, setting.compare);
	if (ticks === null || active === null) return null;
	const on: Level = setting.inverted ? 0 : 1;
	const off: Level = setting.inverted ? 1 : 0;
	if (active <= 0 || active >= ticks) return new PeriodicWave(tick, ticks, [], [], active <= 0 ? off : on);
	const start = activeFrom(setting, ticks, active);
	const edges: [number, Level][] = [
		[start, on],
		[(start + active) % ticks, off]
	];
	edges.sort(([a], [b]) => a - b);
	return new PeriodicWave(
		tick,
		ticks,
		edges.map(([t]) => t),
		edges.map(([, level]) => level),
		off
	);
}

/** The tick of the period at which the active stretch begins; it may run on past the period's end. */
function activeFrom({ counting, reload, output }: SteadyPwm, ticks: number, active: number): number {
	const plain = plainRule(output);
	if (counting.mode === 'updown') return plain === output ? ticks - active / 2 : (ticks - active) / 2;
	if (plain === 'enter' || plain === 'leave') return plain === output ? 0 : ticks - active;
	// An exclusive down counter with R = 0 holds its smallest value first, then the largest.
	const late = counting.mode === 'down' && reload === 0 ? 1 : 0;
	const fromStart = (output === 'below') === (counting.mode === 'up');
	return fromStart ? late : (ticks - active + late) % ticks;
}
