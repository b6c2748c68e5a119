import type { Compared } from './compare.js';
import type { Group, Scene } from './scene.js';
import { isExplained, type Weighed } from './weigh.js';

/** A measured time as a number of the timer's ticks (timers.md 15). */
export interface TurnedAround {
	line: number;
	of: 'period' | 'high';
	seconds: number;
	tick: number;
	/** Whole numbers of ticks that lie within the budget: the same where it is exactly one. */
	ticks: [number, number];
	planned: number;
	timer: string;
}

/** Turns measured times around where the plan does not explain them. */
export function turnAround(scene: Scene, base: readonly Weighed[], range: (line: number) => readonly [number, number]): TurnedAround[] {
	return scene.groups.flatMap((group) =>
		base[group.number].all.flatMap((one, i) =>
			isExplained(base[group.number].residuals[i]) ? [] : (ticksOf(group, one, range(one.line)) ?? [])
		)
	);
}

function ticksOf(
	group: Group,
	{ line, of, measured, predicted, part }: Compared,
	[low, high]: readonly [number, number]
): TurnedAround | undefined {
	if ((of !== 'period' && of !== 'high') || !(measured > 0)) return undefined;
	const shown = group.lines.find(({ number }) => number === line);
	const id = group.aims.find(({ aim }) => aim.id === shown?.seen.witness.aim)?.timer?.id;
	const timer = group.system.timers.find((one) => one.id === id);
	if (!timer) return undefined;
	const tick = timer.kernel * timer.prescale * group.seconds;
	const least = Math.ceil((measured - part) / (tick * high) - 1e-9);
	const most = Math.floor((measured + part) / (tick * low) + 1e-9);
	if (least > most || least < 0) return undefined;
	return { line, of, seconds: measured, tick, ticks: [least, most], planned: Math.round(predicted / tick), timer: timer.id };
}
