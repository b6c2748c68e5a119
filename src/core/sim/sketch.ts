import type { CountingMode, OutputProfile } from '../part/index.js';
import { intervalTicks, type Rule } from '../timer/index.js';
import { Rational } from '../exact/index.js';
import type { Level } from '../trace/index.js';
import { Predictor } from './steady.js';
import type { SimOutput, SimTimer } from './system.js';

/** A counter drawn tick by tick: small numbers to see how it counts (timers.md 3 to 5), nothing to plan with. */
export interface SketchSetting {
	mode: CountingMode;
	rule: Rule;
	width: number;
	/** R, p, b, N or C of the mode, as in Interval. */
	value: number;
	/** Compare of the output that is drawn; in `advance` the first, in `clear` the mode's own. */
	compare: number;
	output: OutputProfile | undefined;
	/** Ticks that software is late, in `clear` and software `preload`. */
	late: number;
	/** Where up-down counting updates. */
	update: 'bottom' | 'top' | 'both';
}

export interface Sketch {
	/** The value held in every tick. */
	values: number[];
	/** The output's level in every tick; empty without an output. */
	levels: Level[];
	/** Boundaries at whose beginning a period event, or the event of the way of counting, comes: a tick's number. */
	events: number[];
	/** Ticks in which software writes the counter or its compare. */
	writes: number[];
	/** Ticks from one event to the next; null for a blocked counter. */
	period: number | null;
}

/** The first `ticks` ticks from the start, as the simulator counts them. */
export function sketchCounting(setting: SketchSetting, ticks: number): Sketch {
	const predictor = new Predictor({ timers: [timerOf(setting)], inputs: {}, writes: [] }, Rational.one);
	predictor.runTo(ticks);
	const { outputs, timers } = predictor.prediction();
	const { counter, updates } = timers.get('t')!;
	const pin = outputs.get('t.c');
	const each = Array.from({ length: ticks }, (_, t) => t);
	const values = each.map((t) => counter.at(t) ?? 0);
	const events = Array.from({ length: updates.edgesBefore(ticks) }, (_, i) => updates.edgeTime(i));
	return {
		values,
		levels:
			setting.mode === 'tap'
				? values.map((n) => ((n >> setting.value) & 1) as Level)
				: pin && setting.output
					? each.map((t) => pin.levelAfter(pin.edgesBefore(t + 1)))
					: [],
		events,
		writes: writesAfter(setting, events).filter((t) => t < ticks),
		period: intervalTicks(setting)
	};
}

/** When software answers the events: it writes the counter, or the compare of `advance`. */
function writesAfter({ mode, late }: SketchSetting, events: readonly number[]): number[] {
	if (mode === 'clear') return events.map((t) => t + 1 + late);
	return mode === 'advance' || (mode === 'preload' && late > 0) ? events.map((t) => t + late) : [];
}

function timerOf({ mode, rule, width, value, compare, output, late, update }: SketchSetting): SimTimer {
	const kept = mode === 'advance' ? compare : value;
	return {
		id: 't',
		kernel: 1,
		width,
		prescale: 1,
		mode,
		rule,
		reload: kept,
		preload: value,
		...(late > 0 && { late }),
		bit: value,
		advance: value,
		repeat: 0,
		updateAt: update,
		oneShot: false,
		start: 0,
		buffered: { reload: false, compare: false },
		channels: [{ id: 'c', compare, output: outputOf(output), inverted: false }]
	};
}

function outputOf(output: OutputProfile | undefined): SimOutput {
	if (!output) return { model: 'none' };
	if (output.model === 'level') return { model: 'level', sense: output.sense };
	const { edge, initial = 0, zero = 'none', top = 'none', matchUp = 'none', matchDown = 'none' } = output;
	return { model: 'action', edge, initial, zero, top, matchUp, matchDown };
}
