import { z } from 'zod';
import {
	budgetOf,
	inside,
	measureQuantity,
	recordingPart,
	type PartOf,
	type RecordingStep,
	type Stretching
} from '../../src/core/check/index.js';
import { MILLION, Rational } from '../../src/core/exact/index.js';
import { interpolatedStep, writtenStep } from '../../src/core/formats/index.js';
import type { Window } from '../../src/core/measure/index.js';
import { TraceBuilder, type Level, type Trace } from '../../src/core/trace/index.js';
import { integer, rational, type Check } from './shapes.js';

const level = z.union([z.literal(0), z.literal(1)]);
const given = z.strictObject({
	step: z.discriminatedUnion('from', [
		z.strictObject({ from: z.enum(['unit', 'sample', 'hand']), s: rational }),
		z.strictObject({ from: z.literal('digit'), unit_s: rational, written: z.array(z.string()) }),
		z.strictObject({ from: z.literal('interpolated'), sample_s: rational, noise: rational, slope_per_s: rational })
	]),
	traces: z.record(
		z.string(),
		z.strictObject({ initial: level, edges_ps: z.array(integer), unknown_ps: z.array(z.tuple([integer, integer])).optional() })
	),
	window_ps: z.tuple([integer, integer]),
	source_ppm: z.tuple([rational, rational]),
	instrument_ppm: rational,
	ask: z.array(
		z.strictObject({
			of: z.enum(['period', 'frequency', 'high', 'low', 'duty', 'delay', 'phase', 'gap']),
			trace: z.string(),
			against: z.string().optional(),
			planned: rational,
			wish: rational.optional(),
			stat: z.enum(['least', 'greatest']).optional(),
			aim_ppm: rational
		})
	)
});

type Given = z.infer<typeof given>;
type Ask = Given['ask'][number];

const STRETCHING: Record<Ask['of'], Stretching> = {
	period: 'time',
	frequency: 'rate',
	high: 'time',
	low: 'time',
	duty: 'ratio',
	delay: 'time',
	phase: 'ratio',
	gap: 'time'
};
const BY_PERIODS: Ask['of'][] = ['period', 'frequency', 'high', 'low', 'duty'];

export const verdict: Check = (raw) => {
	const g = given.parse(raw);
	const step = stepOf(g.step);
	const window = { start: g.window_ps[0], end: g.window_ps[1] };
	const traces = new Map(Object.entries(g.traces).map(([name, one]) => [name, traceOf(one)]));
	return { step_s: step.step, verdicts: g.ask.map((ask) => answer(ask, g, { traces, window, step })) };
};

function stepOf(step: Given['step']): RecordingStep {
	if (step.from === 'digit') return { step: writtenStep(step.written, step.unit_s) };
	if (step.from === 'interpolated') return { step: interpolatedStep(step.sample_s, step.noise, step.slope_per_s), raster: step.sample_s };
	return { step: step.s };
}

interface Scene {
	traces: Map<string, Trace>;
	window: Window;
	step: RecordingStep;
}

function answer(ask: Ask, { source_ppm, instrument_ppm }: Given, scene: Scene): unknown {
	const part = measured(ask, scene);
	const recording = part && recordingPart(ask.of, scene.step, part, ask.stat !== undefined);
	if (!part || !recording) return null;
	const { found, periods } = part;
	const base = ask.wish ?? ask.planned;
	const value = ask.stat === 'least' ? found.min : ask.stat === 'greatest' ? found.max : found.mean;
	const aim = base.abs().mul(ask.aim_ppm).div(MILLION);
	const budget = budgetOf(base, STRETCHING[ask.of], {
		aim,
		source: source_ppm,
		planned: ask.planned,
		recording,
		instrument: instrument_ppm
	});
	const { sum, ...parts } = budget;
	const deviation = value.sub(base);
	return {
		count: found.count,
		...(BY_PERIODS.includes(ask.of) && { stretches: periods!.stretches }),
		measured: value,
		deviation,
		parts,
		sum,
		within: inside(deviation, budget),
		explained: inside(deviation, budget, aim)
	};
}

function measured({ of, trace, against, planned }: Ask, { traces, window }: Scene): PartOf | undefined {
	const other = against === undefined ? undefined : traces.get(against)!;
	return measureQuantity({ of, trace: traces.get(trace)!, planned, ...(other && { against: other }) }, window);
}

/** Edges, with the level unknown in the stretches named: what touches one is no edge. */
function traceOf({ initial, edges_ps, unknown_ps = [] }: Given['traces'][string]): Trace {
	const known = (time: number): Level => ((initial + edges_ps.filter((edge) => edge <= time).length) % 2) as Level;
	const within = (time: number) => unknown_ps.some(([from, to]) => from <= time && time < to);
	const times = [...new Set([...edges_ps, ...unknown_ps.flat()])].sort((a, b) => a - b);
	const builder = new TraceBuilder(initial);
	for (const time of times) builder.add(time, within(time) ? 2 : known(time));
	return builder.finish({ unit: Rational.of(1n, 10n ** 12n), start: 0, end: times.at(-1) ?? 0 });
}
