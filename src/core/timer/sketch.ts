import type { CountingMode, OutputProfile } from '../part/index.js';
import type { Level } from '../trace/index.js';
import { intervalTicks } from './interval.js';
import { largest, type Rule } from './period.js';

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
	/** Boundaries at whose beginning something happens: a tick's number. */
	updates: number[];
	matches: number[];
	/** Ticks in which software writes the counter or its compare. */
	writes: number[];
	/** Ticks from one event to the next; null for a blocked counter. */
	period: number | null;
}

type Direction = 'up' | 'down';

/** The first `ticks` ticks from the start. Throws RangeError for values that do not fit the width. */
export function sketchCounting(setting: SketchSetting, ticks: number): Sketch {
	const { mode, compare, output } = setting;
	const period = intervalTicks(setting);
	const sketch: Sketch = { values: [], levels: [], updates: [], matches: [], writes: [], period };
	let n = mode === 'down' || mode === 'preload' ? setting.value : 0;
	let direction: Direction = mode === 'down' ? 'down' : 'up';
	let reached: Direction = mode === 'updown' ? 'down' : direction;
	let level: Level = output?.model === 'action' ? (output.initial ?? 0) : 0;
	let due = compare;
	let pending = -1;
	const act = (word: 'low' | 'high' | 'toggle' | undefined) => {
		if (word) level = word === 'toggle' ? (level === 1 ? 0 : 1) : word === 'high' ? 1 : 0;
	};
	const matchWord = () => (output?.model === 'action' ? (reached === 'up' ? output.matchUp : output.matchDown) : undefined);
	for (let t = 0; t < ticks; t++) {
		const moved = t > 0 && (period !== null || n > 0);
		if (moved) {
			if (output?.model === 'action' && output.edge === 'leave' && n === compare) act(matchWord());
			const step = stepOf(setting, n, direction, t === pending);
			if (t === pending) sketch.writes.push(t);
			reached = direction;
			({ n, direction } = step);
			if (step.wrapped) {
				if (mode === 'preload' && setting.late > 0) pending = t + setting.late;
				sketch.updates.push(t);
			}
			if (mode === 'tap' && ((n >> setting.value) & 1) === 1 && n % 2 ** setting.value === 0) sketch.matches.push(t);
		}
		if (t === 0 || moved) {
			if (output?.model === 'action') {
				if (n === 0) act(output.zero);
				if (n === topOf(setting)) act(output.top);
				if (output.edge === 'enter' && n === compare) act(matchWord());
			}
			// The event of `clear` and `advance` is the counter having been at C, when software takes notice.
			if (mode === 'clear' && n === setting.value) pending = t + 1 + setting.late;
			if (mode === 'advance' && n === due) {
				sketch.matches.push(t);
				sketch.writes.push(Math.min(ticks - 1, t + setting.late));
				due = (due + setting.value) & largest(setting.width);
			}
		}
		if (output?.model === 'level') level = (direction === 'up' ? n < compare : n <= compare) === (output.sense === 'below') ? 1 : 0;
		if (mode === 'tap') level = ((n >> setting.value) & 1) as Level;
		sketch.values.push(n);
		if (output || mode === 'tap') sketch.levels.push(level);
	}
	return sketch;
}

function topOf({ mode, width, value }: SketchSetting): number {
	return mode === 'up' || mode === 'down' || mode === 'updown' ? value : largest(width);
}

function stepOf(
	setting: SketchSetting,
	n: number,
	direction: Direction,
	written: boolean
): { n: number; direction: Direction; wrapped: boolean } {
	const { mode, rule, value, width, late, update } = setting;
	const last = largest(width);
	switch (mode) {
		case 'up': {
			const end = rule === 'inclusive' ? value : value === 0 ? last : value - 1;
			return n === end ? { n: 0, direction, wrapped: true } : { n: (n + 1) & last, direction, wrapped: false };
		}
		case 'down': {
			const end = rule === 'inclusive' || value === 0 ? 0 : 1;
			if (rule === 'exclusive' && value === 0)
				return n === 0 ? { n: last, direction, wrapped: false } : { n: n - 1, direction, wrapped: n === 1 };
			return n === end ? { n: value, direction, wrapped: true } : { n: n - 1, direction, wrapped: false };
		}
		case 'updown': {
			const next = direction === 'up' ? n + 1 : n - 1;
			if (next === value && direction === 'up') return { n: next, direction: 'down', wrapped: update !== 'bottom' };
			return next === 0 ? { n: 0, direction: 'up', wrapped: update !== 'top' } : { n: next, direction, wrapped: false };
		}
		case 'preload':
			if (written) return { n: value, direction, wrapped: false };
			return n === last ? { n: late > 0 ? 0 : value, direction, wrapped: true } : { n: n + 1, direction, wrapped: false };
		case 'clear':
			if (written) return { n: 0, direction, wrapped: true };
			return { n: (n + 1) & last, direction, wrapped: false };
		default:
			return { n: (n + 1) & last, direction, wrapped: mode !== 'advance' && n === last };
	}
}
