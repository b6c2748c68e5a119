import { Rational } from '../src/core/exact/index.js';
import { EdgeRecorder, Predictor, Simulation, type SimChannel, type SimSystem, type SimTimer } from '../src/core/sim/index.js';
import type { StretchedTrace } from '../src/core/trace/index.js';
import { plainChannel, plainTimer } from '../tests/unit/system.js';
import type { Report } from './report.js';

const BASE = 72_000_000;
const UNIT = Rational.ratio(1, BASE);

const channel = plainChannel;
const timer = (id: string, reload: number, channels: SimChannel[], change: Partial<SimTimer> = {}) =>
	plainTimer(id, { reload, channels, ...change });

/** 20 kHz at 72 MHz. */
const pwm: SimSystem = { timers: [timer('t', 3599, [channel('a', 1260)])], inputs: {}, writes: [] };

/** A leader, two staggered followers, a pair with dead time that a table shapes, one reset and one gated by the others. */
function mixed(): SimSystem {
	const rows = Array.from({ length: 160 }, (_, k) => ({ compare: { a: Math.round(1800 + 1600 * Math.sin((2 * Math.PI * k) / 160)) } }));
	return {
		timers: [
			timer('lead', 3599, [channel('a', 1260), channel('b', 1199), channel('c', 2399)]),
			timer('second', 3599, [channel('a', 1260)], {
				start: 'trigger',
				trigger: { from: { timer: 'lead', event: 'match:b' }, action: 'start', latency: 1 }
			}),
			timer('third', 3599, [channel('a', 1260)], {
				start: 'trigger',
				trigger: { from: { timer: 'lead', event: 'match:c' }, action: 'start', latency: 1 }
			}),
			timer('table', 3599, [channel('a', 1800, { dead: 36 })], {
				sequences: [{ rows, loop: true, lag: 20, prefill: true }],
				trigger: { from: { timer: 'lead', event: 'update' }, action: 'capture', latency: 1 }
			}),
			timer('centre', 900, [channel('a', 300)], {
				mode: 'updown',
				trigger: { from: { timer: 'third', event: 'update' }, action: 'reset', latency: 1 }
			}),
			timer('burst', 179, [channel('a', 90)], {
				trigger: { from: { timer: 'second', event: 'level:a' }, action: 'gate', latency: 1 }
			})
		],
		inputs: {},
		writes: []
	};
}

/** Predicts and writes every edge into columns; edges and milliseconds. */
function materialise(system: SimSystem, seconds: number): { edges: number; ms: number; bytes: number } {
	const start = performance.now();
	const predictor = new Predictor(system, UNIT);
	predictor.runTo(seconds * BASE);
	let edges = 0;
	let bytes = 0;
	for (const trace of predictor.prediction().outputs.values()) {
		const column = trace.times64(0, trace.count);
		edges += column.length;
		bytes += column.byteLength;
	}
	return { edges, ms: performance.now() - start, bytes };
}

/** Two pins reset at uneven times, so that nothing is steady; everything that is kept of them, in bytes an edge. */
function storyBytes(): number {
	let time = 0;
	const edges = Array.from({ length: 20_000 }, (_, i) => (time += 4000 + ((i * 7919) % 1000)));
	const reset = { from: { input: 'i', edge: 'rise' as const }, action: 'reset' as const, latency: 0 };
	const predictor = new Predictor(
		{
			timers: [timer('t', 3599, [channel('a', 1260), channel('b', 900)], { trigger: reset })],
			inputs: { i: { initial: 0, edges } },
			writes: []
		},
		UNIT
	);
	predictor.runTo(time);
	const { outputs, timers } = predictor.prediction();
	const traces = new Set<StretchedTrace>(outputs.values());
	let bytes = 0;
	for (const { updates, writes, effects, matches, references, counter, captures, registers } of timers.values()) {
		for (const trace of [updates, writes, effects, ...matches.values(), ...references.values()]) traces.add(trace);
		for (const { columns } of [counter, captures, ...registers.values()])
			bytes += columns.points.times.byteLength + columns.kindOf.byteLength;
	}
	for (const { columns } of traces) bytes += columns.times.byteLength;
	return bytes / [...outputs.values()].reduce((sum, { count }) => sum + count, 0);
}

/** Edges a second, with steady stretches and without; any window of an hour; bytes an edge. */
export function benchSim(report: Report): void {
	materialise(pwm, 1);
	const steady = materialise(pwm, 250);
	report('sim_pwm_edges', steady.edges / steady.ms / 1000, 'M/s');
	report('sim_edge_bytes', steady.bytes / steady.edges, 'bytes');
	report('sim_story_bytes', storyBytes(), 'bytes');
	materialise(mixed(), 1);
	const linked = materialise(mixed(), 20);
	report('sim_mixed_edges', linked.edges / linked.ms / 1000, 'M/s');

	const recorder = new EdgeRecorder();
	const plain = new Simulation(mixed(), recorder);
	plain.runTo(BASE / 100);
	const before = recorder.edges.reduce((sum, edges) => sum + edges.length, 0);
	let start = performance.now();
	plain.runTo(BASE / 2);
	const edges = recorder.edges.reduce((sum, all) => sum + all.length, 0) - before;
	report('sim_mixed_plain', edges / (performance.now() - start) / 1000, 'M/s');

	start = performance.now();
	const predictor = new Predictor(pwm, UNIT);
	predictor.runTo(3600 * BASE);
	const trace = predictor.prediction().outputs.get('t.a')!;
	for (let i = 0; i < 100; i++) trace.times64(trace.edgesBefore(i * 36 * BASE), trace.edgesBefore(i * 36 * BASE) + 10);
	report('sim_lazy_hour', performance.now() - start, 'ms');
}
