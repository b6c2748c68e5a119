import type { Laying } from '../align/index.js';
import { measurePulses, type PulseMeasures } from '../measure/index.js';
import { recordingPart, type RecordingStep } from '../check/index.js';
import { Rational, type Ppm } from '../exact/index.js';
import { TraceBuilder, type Trace } from '../trace/index.js';

/** A recorded line and what of the plan it shows. */
export interface Witness {
	/** Lines of one recording share its clock. */
	recording: string;
	line: string;
	aim: string;
	role: string;
	trace: Trace;
	step: RecordingStep;
	/** What the recorder's clock is stated to be off by. */
	instrument: Ppm;
	/** Its recording was laid by hand: seconds. */
	laying?: Laying;
}

/** What was measured on a line, in doubles of seconds: it is compared with many predictions. */
export interface Observed {
	witness: Witness;
	/** Nothing was recorded: somebody read one value off, in the quantity's own unit. */
	reading?: ReadValue;
	measures: PulseMeasures;
	/** Recorded from a time to a time. */
	from: number;
	to: number;
	/** Edges in order, at the most MOST_EDGES; `level` before the first. Stretches of unknown level are passed over. */
	level: 0 | 1 | 2;
	edges: Float64Array;
	up: Uint8Array;
	/** What an edge's time can be off by, and a mean period or width: the recording's part, and the noise that was seen. */
	step: number;
	periodPart: number;
	highPart: number;
	/** The spread of a single edge as the periods show it, where it is more than the step explains; else 0. */
	noise: number;
	/** The greatest difference of two periods and of two widths. */
	periodSpread: number;
	highSpread: number;
}

/** A value that was read off: of which quantity, and what it can be off by. */
export interface ReadValue {
	of: 'frequency' | 'high' | 'duty' | 'delay' | 'gap' | 'interval' | 'width' | 'period';
	value: number;
	error: number;
}

/** A reading as if it were a line of its own. */
export function observeReading(witness: Omit<Witness, 'trace' | 'step'>, reading: ReadValue): Observed {
	const trace = new TraceBuilder(2).finish({ unit: Rational.one, start: 0, end: 0 });
	return { ...observe({ ...witness, trace, step: { step: Rational.one } }), reading };
}

/** Edges that are looked at one by one: of a longer line the first. */
export const MOST_EDGES = 12_000;

/** Measures a line (timers.md 11). */
export function observe(witness: Witness): Observed {
	const { trace, step } = witness;
	const { start, end, unit, initial } = trace.meta;
	const seconds = unit.toNumber();
	const measures = measurePulses(trace, { start, end: end + 1 });
	const { edges, up } = edgesOf(trace, initial, seconds);
	const known = step.step.toNumber();
	const noise = noiseOf(edges, up, known);
	const { period, high } = measures;
	const periods = period ? { count: period.count, stretches: measures.stretches, mean: period.mean } : undefined;
	const part = (of: 'period' | 'high', found: typeof period) => (found && recordingPart(of, step, { found, periods })?.toNumber()) ?? known;
	const count = period?.count ?? 1;
	const spread = (found: typeof period) => (found ? found.max.sub(found.min).toNumber() : 0);
	const wander = wanderOf(Math.max(spread(period), spread(high)), known);
	return {
		witness,
		measures,
		from: start * seconds,
		to: end * seconds,
		level: initial,
		edges,
		up,
		step: known,
		periodPart: part('period', period) + (5 * noise + wander) / count,
		highPart: part('high', high) + (5 * noise + wander) / Math.sqrt(count),
		noise,
		periodSpread: spread(period),
		highSpread: spread(high)
	};
}

/** Spreads up to so many steps are taken for edges that wander. */
const MOST_WANDER = 4;

/** What single edges wander by besides the step: a steady line shows periods of two neighbouring numbers of steps, and no others. */
function wanderOf(spread: number, step: number): number {
	return spread <= MOST_WANDER * step ? Math.max(0, spread - step) / 2 : 0;
}

function edgesOf(trace: Trace, initial: number, seconds: number): { edges: Float64Array; up: Uint8Array } {
	const count = Math.min(trace.count, MOST_EDGES);
	const edges = new Float64Array(count);
	const up = new Uint8Array(count);
	let used = 0;
	let level = initial;
	for (let i = 0; i < count; i++) {
		const next = trace.levelAfter(i + 1);
		if (next !== 2 && level !== 2 && next !== level) {
			edges[used] = trace.edgeTime(i) * seconds;
			up[used++] = next;
		}
		level = next;
	}
	return { edges: edges.subarray(0, used), up: up.subarray(0, used) };
}

/** Rises that are enough to see how much single edges wander. */
const SEEN = 500;

/** What edges of a steady line wander by besides the step: from the middle distance of its periods to their median. */
function noiseOf(edges: Float64Array, up: Uint8Array, step: number): number {
	const rises: number[] = [];
	for (let i = 0; i < edges.length && rises.length < SEEN; i++) if (up[i] === 1) rises.push(edges[i]);
	if (rises.length < 5) return 0;
	const periods = rises.slice(1).map((rise, i) => rise - rises[i]);
	const middle = median(periods);
	const off = median(periods.map((period) => Math.abs(period - middle)));
	// Half of all differences of two edges that wander by one each lie within 0.95 of it.
	const edge = off / 0.95;
	return edge > 0.6 * step && edge < 0.02 * middle ? edge : 0;
}

/** The value below which a share of them lies; 0 where there is none. */
export function quantile(values: readonly number[], share: number): number {
	const sorted = [...values].sort((a, b) => a - b);
	return sorted[Math.floor(share * (sorted.length - 1))] ?? 0;
}

export function median(values: readonly number[]): number {
	return quantile(values, 0.5);
}
