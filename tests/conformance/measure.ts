import { z } from 'zod';
import { Rational } from '../../src/core/exact/index.js';
import { measureDelay, measureGap, measurePulses, type Statistics, type Window } from '../../src/core/measure/index.js';
import { TraceBuilder, type Trace } from '../../src/core/trace/index.js';
import { integer, rational, type Check } from './shapes.js';

const given = z.strictObject({
	resolution_s: rational,
	traces: z.record(z.string(), z.strictObject({ initial: z.union([z.literal(0), z.literal(1)]), edges_ps: z.array(integer) })),
	window: z.tuple([integer, integer]),
	ask: z.array(
		z.union([
			z.strictObject({ of: z.enum(['period', 'frequency', 'high', 'low', 'duty', 'count']), trace: z.string() }),
			z.strictObject({ of: z.enum(['delay', 'phase', 'gap']), trace: z.string(), against: z.string() })
		])
	)
});

type Ask = z.infer<typeof given>['ask'][number];

export const measure: Check = (raw) => {
	const g = given.parse(raw);
	const window = { start: g.window[0], end: g.window[1] };
	const traces = new Map(Object.entries(g.traces).map(([name, t]) => [name, traceOf(t.initial, t.edges_ps)]));
	return g.ask.map((ask) => answer(ask, traces, window));
};

function answer(ask: Ask, traces: Map<string, Trace>, window: Window): unknown {
	const trace = traces.get(ask.trace)!;
	if (ask.of === 'count') return { count: measurePulses(trace, window).rises };
	if (ask.of === 'gap') return brief(measureGap(trace, traces.get(ask.against)!, window));
	if (ask.of === 'delay' || ask.of === 'phase') return brief(measureDelay(trace, traces.get(ask.against)!, window)[ask.of]);
	return brief(measurePulses(trace, window)[ask.of]);
}

function brief(found: Statistics | null): unknown {
	return found && { count: found.count, mean: found.mean, min: found.min, max: found.max };
}

function traceOf(initial: 0 | 1, edges: number[]): Trace {
	const builder = new TraceBuilder(initial);
	edges.forEach((time, i) => builder.add(time, ((initial + i + 1) % 2) as 0 | 1));
	return builder.finish({ unit: Rational.of(1n, 10n ** 12n), start: 0, end: edges.at(-1) ?? 0 });
}
