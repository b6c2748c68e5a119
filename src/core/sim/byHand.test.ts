import { describe, expect, test } from 'vitest';
import { plainChannel, plainTimer } from '../../../tests/unit/system.js';
import { Rational } from '../exact/index.js';
import { EdgeRecorder, groupsOf, Predictor, Simulation, type SimSystem, type SimTimer } from './index.js';

/** Small systems whose edges are worked out here by hand from timers.md. */
const channel = plainChannel;
const timer = (id: string, change: Partial<SimTimer>) => plainTimer(id, { width: 8, ...change });

function run(system: Partial<SimSystem>, until: number) {
	const recorder = new EdgeRecorder();
	const simulation = new Simulation({ timers: [], inputs: {}, writes: [], ...system }, recorder);
	simulation.runTo(until);
	return { edges: (name: string) => recorder.edges[simulation.names.indexOf(name)], recorder, simulation };
}

describe('by hand', () => {
	test('a compare of 3 in ten ticks is high for three of them (5)', () => {
		expect(run({ timers: [timer('t', { channels: [channel('a', 3)] })] }, 25).edges('t.a')).toEqual([3, 10, 13, 20, 23]);
	});
	test('with a prescale of 4 everything takes four times as long (3)', () => {
		expect(run({ timers: [timer('t', { prescale: 4, channels: [channel('a', 3)] })] }, 60).edges('t.a')).toEqual([12, 40, 52]);
	});
	test('dead time of 2 keeps both sides apart, from the start on (5)', () => {
		const { edges } = run({ timers: [timer('t', { channels: [channel('a', 4, { dead: 2 })] })] }, 25);
		// High reference 0..3: main 2..3; low 4..9: complementary 6..9.
		expect(edges('t.a')).toEqual([2, 4, 12, 14, 22, 24]);
		expect(edges('t.a.n')).toEqual([6, 10, 16, 20]);
	});
	test('a buffered write waits for the update, an unbuffered one cuts the pulse (4)', () => {
		const write = { at: 12, timer: 't', register: 'compare:a', value: 1 };
		const one = (compare: boolean) =>
			run({ timers: [timer('t', { channels: [channel('a', 5)], buffered: { reload: true, compare } })], writes: [write] }, 22);
		expect(one(true).edges('t.a')).toEqual([5, 10, 15, 20, 21]);
		expect(one(false).edges('t.a')).toEqual([5, 10, 12, 20, 21]);
	});
	test('a reload lowered below the count runs on to the counter’s end (3)', () => {
		const { recorder } = run(
			{
				timers: [timer('t', { buffered: { reload: false, compare: true } })],
				writes: [{ at: 8, timer: 't', register: 'reload', value: 5 }]
			},
			300
		);
		// 8 at cycle 8 runs to 255 at cycle 255, wraps at 256, then every 6.
		expect(recorder.updates[0].slice(0, 3)).toEqual([256, 262, 268]);
	});
	test('only every third period updates with a repeat count of 2 (4)', () => {
		expect(run({ timers: [timer('t', { repeat: 2 })] }, 100).recorder.updates[0]).toEqual([30, 60, 90]);
	});
	test('a start and a reset at one cycle are one restart: what falls on it is raised once (5)', () => {
		const lead = timer('lead', { start: 4, reload: 19 });
		const toggles = plainChannel('a', 3, {
			output: { model: 'action', edge: 'enter', initial: 0, zero: 'toggle', top: 'none', matchUp: 'none', matchDown: 'none' }
		});
		const next = timer('next', {
			start: 4,
			trigger: { from: { timer: 'lead', event: 'start' }, action: 'reset', latency: 0 },
			channels: [toggles]
		});
		const { edges, recorder } = run({ timers: [lead, next] }, 30);
		// Up at the restart, down at each wrap after ten ticks, and so on; the reset is an update.
		expect(edges('next.a')).toEqual([4, 14, 24]);
		expect(recorder.updates[1]).toEqual([4, 14, 24]);
	});
	test('a follower started by a match at 7 with a latency of 1 counts from cycle 8 on (7)', () => {
		const lead = timer('lead', { reload: 19, channels: [channel('a', 7)] });
		const next = timer('next', {
			start: 'trigger',
			trigger: { from: { timer: 'lead', event: 'match:a' }, action: 'start', latency: 1 },
			channels: [channel('a', 4)]
		});
		const { edges, simulation } = run({ timers: [next, lead] }, 30);
		expect(edges('next.a')).toEqual([12, 18, 22, 28]);
		expect(simulation.valueOf(0)).toBe(1);
	});
	test('a gate stretches what it interrupts (7)', () => {
		const gated = timer('t', { trigger: { from: { input: 'g', edge: 'rise' }, action: 'gate', latency: 0 }, channels: [channel('a', 3)] });
		const { edges } = run({ timers: [gated], inputs: { g: { initial: 1, edges: [5, 11] } } }, 30);
		// Six cycles, 5 to 10, are not counted.
		expect(edges('t.a')).toEqual([3, 16, 19, 26, 29]);
	});
	test('software has a part in four ways of counting (3)', () => {
		const updates = (change: Partial<SimTimer>, until = 60) =>
			run({ timers: [timer('t', { width: 4, ...change })] }, until).recorder.updates[0];
		// Bit 2 rises at 4, 12, 20 .. of a counter of 16.
		expect(updates({ mode: 'tap', bit: 2 }, 40)).toEqual([4, 12, 20, 28, 36]);
		// The compare goes on by 6 at each match, round the end of the counter.
		expect(updates({ mode: 'advance', reload: 6, advance: 6 }, 40)).toEqual([6, 12, 18, 24, 30, 36]);
		// Cleared two ticks late: C + 1 + s = 10 + 1 + 2.
		expect(updates({ mode: 'clear', reload: 10, late: 2 }, 40)).toEqual([10, 23, 36]);
		// The counter begins at 0 without having come to it.
		expect(updates({ mode: 'clear', reload: 0 }, 19)).toEqual([16, 17, 18]);
		expect(updates({ mode: 'clear', reload: 0, late: 2 }, 24)).toEqual([16, 19, 22]);
		// Preloaded three ticks late: 16 - 9 + 3, after the first run from 9.
		expect(updates({ mode: 'preload', preload: 9, late: 3 }, 40)).toEqual([7, 17, 27, 37]);
	});
	test('rows at every second update, reload first, a write a cycle; a delay within a range meets both its ends', () => {
		const story = (change: Partial<SimTimer>, until = 200) => {
			const predictor = new Predictor({ timers: [timer('t', change)], inputs: {}, writes: [] }, Rational.one);
			predictor.runTo(until);
			const { writes, effects, registers } = predictor.prediction().timers.get('t')!;
			const times = (trace: typeof writes) => [...trace.times64(0, trace.edgesBefore(until))];
			return { writes: times(writes), effects: times(effects), registers };
		};
		const rows = [
			{ compare: { a: 3 }, reload: 9 },
			{ compare: { a: 6 }, reload: 19 }
		];
		const sequence = { rows, loop: false, lag: 2, prefill: false, every: 2, apart: 3, reloadFirst: true };
		const { writes, effects, registers } = story({ channels: [channel('a', 3)], sequences: [sequence] });
		// Update 2 at 20: the reload is written at 22, the compare at 25; both act at update 3.
		expect([writes, effects]).toEqual([[22, 25], [30]]);
		expect(registers.get('reload')!.at(29)).toBe(9);
		expect([registers.get('reload')!.at(30), registers.get('compare:a')!.at(30)]).toEqual([19, 6]);
		const ranged = story({
			channels: [channel('a', 3)],
			sequences: [{ ...sequence, rows: [rows[0]], loop: true, every: 1, apart: 0, lag: { least: 1, most: 7 } }]
		});
		const delays = ranged.writes.map((time) => time % 10);
		expect([Math.min(...delays), Math.max(...delays), delays.slice(0, 3)]).toEqual([1, 7, [1, 7, 4]]);
	});
	test('a prediction tells how far it came, and not how far it was to go', () => {
		// Rows that never come again keep it from going on in turns.
		const rows = Array.from({ length: 500 }, (_, k) => ({ compare: {}, reload: 20 + k }));
		const fed = timer('t', { reload: 20, sequences: [{ rows, loop: false, lag: 0, prefill: false }] });
		const predictor = new Predictor({ timers: [fed], inputs: {}, writes: [] }, Rational.one);
		expect(predictor.runTo(1_000_000, 40)).toBe(false);
		const { until, timers } = predictor.prediction();
		const { updates } = timers.get('t')!;
		expect(until).toBe(predictor.reached);
		expect(until).toBeLessThan(updates.edgeTime(updates.count - 1) + 1000);
	});
	test('timers that do not hear each other are groups of their own', () => {
		const a = timer('a', { channels: [channel('x', 3)] });
		const b = timer('b', { start: 'trigger', trigger: { from: { timer: 'a', event: 'update' }, action: 'start', latency: 0 } });
		const c = timer('c', { trigger: { from: { input: 'i', edge: 'rise' }, action: 'reset', latency: 0 } });
		const groups = groupsOf({
			timers: [a, b, c],
			inputs: { i: { initial: 0, edges: [4] } },
			writes: [{ at: 1, timer: 'c', register: 'reload', value: 3 }]
		});
		expect(groups.map(({ timers, inputs, writes }) => [timers.map(({ id }) => id), Object.keys(inputs), writes.length])).toEqual([
			[['a', 'b'], [], 0],
			[['c'], ['i'], 1]
		]);
	});
});
