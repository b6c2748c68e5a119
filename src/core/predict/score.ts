import type { Seconds } from '../exact/index.js';
import { Predictor, type SimTimer } from '../sim/index.js';
import type { ValueTrace } from '../trace/index.js';
import type { PlanDerivation } from '../plan/index.js';
import { planSystem } from './system.js';

/** A timer's counter over a score's time. */
export interface ScoreStave {
	timer: string;
	reload: number;
	/** The greatest value that is drawn. */
	top: number;
	counter: ValueTrace;
	/** Lines at compares: whose they are, and where they lie. `lead`: only there to trigger another timer. */
	compares: { channel: string; value: number; lead: boolean }[];
}

export interface PlanScore {
	unit: Seconds;
	seconds: number;
	/** False: there were more events than a score is worth; ramps end where it was reached. */
	whole: boolean;
	staves: ScoreStave[];
}

const PERIODS = 2.25;
const MOST_MOMENTS = 1_000_000;

/** The plan's counters over a little more than two periods of the slowest timer that leads another, or of the slowest at all. */
export function predictScore(derivation: PlanDerivation): PlanScore {
	const { plan, aims } = derivation;
	const { system, unit } = planSystem(derivation);
	const leaders = new Set(aims.flatMap(({ route }) => (route ? [plan.aims.find(({ id }) => id === route.leader)?.timer] : [])));
	const weighed = system.timers.filter(({ id }) => leaders.size === 0 || leaders.has(id));
	const cycles = PERIODS * Math.max(1, ...weighed.map(periodOf));
	const until = Math.round(cycles);
	const predictor = new Predictor(system, unit);
	const whole = predictor.runTo(until, MOST_MOMENTS);
	const { timers } = predictor.prediction();
	const staves = system.timers.map((timer): ScoreStave => {
		const { counter } = timers.get(timer.id)!;
		return {
			timer: timer.id,
			reload: timer.reload,
			top: topOf(timer, counter),
			counter,
			compares: timer.channels.map(({ id, compare, output }) => ({ channel: id, value: compare, lead: output.model === 'none' }))
		};
	});
	return { unit, seconds: cycles * unit.toNumber(), whole, staves };
}

/** The greatest value that a timer's counter is drawn up to: its whole width where no reload ends it. */
export function topOf({ mode, reload, width }: SimTimer, counter: ValueTrace): number {
	const whole = 2 ** width - 1;
	if (mode !== 'up' && mode !== 'down' && mode !== 'updown') return whole;
	return Math.max(1, reload, Math.min(counter.top, whole));
}

/** Base cycles from one beginning of the count to the next. */
function periodOf({ mode, reload, width, prescale, kernel, preload }: SimTimer): number {
	const ticks =
		mode === 'updown' ? 2 * reload : mode === 'up' || mode === 'down' ? reload + 1 : mode === 'preload' ? 2 ** width - preload : 2 ** width;
	return ticks * prescale * kernel;
}
