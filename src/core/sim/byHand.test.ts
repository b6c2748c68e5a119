import { describe, expect, test } from 'vitest';
import { EdgeRecorder, groupsOf, Simulation, type SimChannel, type SimSystem, type SimTimer } from './index.js';

/** Small systems whose edges are worked out here by hand from timers.md. */
const channel = (id: string, compare: number, change: Partial<SimChannel> = {}): SimChannel => ({
	id,
	compare,
	output: { model: 'level', sense: 'below' },
	inverted: false,
	...change
});
const timer = (id: string, change: Partial<SimTimer>): SimTimer => ({
	id,
	kernel: 1,
	width: 8,
	prescale: 1,
	mode: 'up',
	rule: 'inclusive',
	reload: 9,
	preload: 0,
	repeat: 0,
	updateAt: 'bottom',
	oneShot: false,
	start: 0,
	buffered: { reload: true, compare: true },
	channels: [],
	...change
});

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
