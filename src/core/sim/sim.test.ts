import { describe, expect, test } from 'vitest';
import { stepSystem } from '../../../tests/unit/stepper.js';
import { Rational } from '../exact/index.js';
import { EdgeRecorder, Predictor, Simulation, type SimChannel, type SimSystem, type SimTimer } from './index.js';

/** A small seeded generator: the seed is in the test's name. */
function randomOf(seed: number): (below: number) => number {
	let state = seed >>> 0;
	return (below) => {
		state = (state + 0x6d2b79f5) >>> 0;
		let mixed = Math.imul(state ^ (state >>> 15), state | 1);
		mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
		return ((mixed ^ (mixed >>> 14)) >>> 0) % below;
	};
}

const UNTIL = 260;

/** Up to four timers of every mode with all that may hang on them, linked without rings. */
function randomSystem(seed: number): SimSystem {
	const roll = randomOf(seed);
	const pick = <T>(list: readonly T[]): T => list[roll(list.length)];
	const chance = (one: number, of: number) => roll(of) < one;
	const actions = ['none', 'low', 'high', 'toggle'] as const;
	const channel = (id: string, most: number): SimChannel => {
		const output: SimChannel['output'] = chance(1, 2)
			? { model: 'level', sense: pick(['below', 'above'] as const) }
			: {
					model: 'action',
					edge: pick(['enter', 'leave'] as const),
					initial: roll(2) as 0 | 1,
					zero: pick(actions),
					top: pick(actions),
					matchUp: pick(actions),
					matchDown: pick(actions)
				};
		return { id, compare: roll(most + 2), output, inverted: chance(1, 4), ...(chance(1, 4) && { dead: roll(5) }) };
	};
	const count = 1 + roll(4);
	const timers: SimTimer[] = [];
	for (let i = 0; i < count; i++) {
		const width = 4 + roll(2);
		const max = 2 ** width - 1;
		const reload = chance(1, 12) ? 0 : 1 + roll(Math.min(max, 14));
		const channels = Array.from({ length: roll(3) }, (_, k) => channel('ab'[k], Math.min(max - 1, reload + 2)));
		const timer: SimTimer = {
			id: `t${i}`,
			kernel: pick([1, 1, 1, 2, 3]),
			width,
			prescale: pick([1, 1, 2, 3, 5]),
			mode: pick(['up', 'down', 'updown', 'free', 'preload'] as const),
			rule: pick(['inclusive', 'exclusive'] as const),
			reload,
			preload: roll(max + 1),
			repeat: pick([0, 0, 0, 1, 2]),
			updateAt: pick(['bottom', 'top', 'both'] as const),
			oneShot: chance(1, 5),
			start: chance(1, 5) ? 'trigger' : roll(20),
			buffered: { reload: chance(2, 3), compare: chance(2, 3) },
			channels
		};
		const sources = timers.flatMap(({ id, channels: own }) => [
			...['start', 'update'].map((event) => ({ timer: id, event })),
			...own.flatMap((one) => ['match', 'level'].map((word) => ({ timer: id, event: `${word}:${one.id}` })))
		]);
		const input = { input: 'x', edge: pick(['rise', 'fall', 'both'] as const) };
		if (timer.start === 'trigger' || chance(1, 2)) {
			const action =
				timer.start === 'trigger'
					? pick(['start', 'restart'] as const)
					: pick(['start', 'reset', 'restart', 'gate', 'clock', 'capture'] as const);
			const fitting = sources.filter(({ event }) => action !== 'gate' || event.startsWith('level'));
			timer.trigger = { from: fitting.length > 0 && chance(2, 3) ? pick(fitting) : input, action, latency: roll(4) };
		}
		if (channels.length > 0 && chance(1, 5)) {
			const prefill = chance(1, 2) && timer.buffered.compare;
			const rows = Array.from({ length: 1 + roll(4) }, () => ({ compare: { a: roll(reload + 2) } }));
			timer.sequences = [{ rows, loop: chance(2, 3), lag: roll(6), prefill }];
		}
		if (chance(1, 6)) {
			const words = Array.from({ length: 1 + roll(3) }, () => ({ set: [roll(3)], clear: [roll(3)] }));
			timer.pattern = { words, loop: chance(2, 3), lag: roll(4), initial: chance(1, 2) ? [roll(3)] : [] };
		}
		timers.push(timer);
	}
	const edges: number[] = [];
	for (let t = roll(8); t < UNTIL; t += 1 + roll(25)) edges.push(t);
	const writes = Array.from({ length: roll(6) }, () => {
		const timer = pick(timers);
		const register = pick(['reload', 'repeat', 'prescale', ...timer.channels.map(({ id }) => `compare:${id}`)]);
		const value = register === 'prescale' ? 1 + roll(4) : register === 'repeat' ? roll(3) : roll(2 ** timer.width);
		return { at: roll(UNTIL), timer: timer.id, register, value };
	}).sort((a, b) => a.at - b.at);
	return { timers, inputs: { x: { initial: roll(2) as 0 | 1, edges } }, writes };
}

/** The same, with the modes in which software has a part, delays within a range, rows at every few updates and writes one after the other, rows of two channels, and compares that wait or not by channel. */
function softSystem(seed: number): SimSystem {
	const roll = randomOf(seed + 70_000);
	const system = randomSystem(seed);
	const timers = system.timers.map((timer): SimTimer => {
		const max = 2 ** timer.width - 1;
		const mode = (['tap', 'advance', 'clear', 'preload', timer.mode] as const)[roll(5)];
		const parts = { bit: roll(timer.width), advance: 1 + roll(max), late: roll(4) };
		const span = () => ({ least: roll(4), most: 4 + roll(9) });
		const { pattern } = timer;
		const channels = timer.channels.map((one) => ({ ...one, ...(one.id !== 'a' && roll(3) === 0 && { buffered: roll(2) === 0 }) }));
		const second = {
			rows: [{ compare: { b: roll(max) } }, { compare: { b: roll(max) } }, {}].slice(roll(2)).map((row) => ({ compare: {}, ...row })),
			loop: true,
			lag: 0,
			prefill: false
		};
		const sequences = timer.sequences && [...timer.sequences, ...(channels.length > 1 ? [second] : [])];
		return {
			...timer,
			channels,
			mode,
			...(mode === 'preload' && { preload: roll(max + 1) }),
			...parts,
			...(sequences && {
				sequences: sequences.map((one) => {
					const rows = one.rows.map((row) => ({ ...row, ...(roll(3) === 0 && { prescale: 1 + roll(3) }) }));
					return { ...one, rows, lag: span(), every: 1 + roll(3), apart: roll(4), reloadFirst: roll(2) === 0 };
				})
			}),
			...(pattern && { pattern: { ...pattern, lag: span() } }),
			...(roll(4) === 0 && {
				legs: {
					words: Array.from({ length: 1 + roll(4) }, () => ({
						set: [roll(2)],
						clear: [roll(2)],
						...(roll(2) === 0 && { then: { after: 1 + roll(20), set: [roll(2)], clear: [] } })
					})),
					loop: roll(3) > 0,
					lag: roll(4),
					initial: []
				}
			})
		};
	});
	return { ...system, timers };
}

/** What the simulator tells, cycle by cycle, as the stepper does. */
function simulated(system: SimSystem, pause?: number) {
	const recorder = new EdgeRecorder();
	const simulation = new Simulation(system, recorder);
	if (pause === undefined) simulation.runTo(UNTIL);
	else while (!simulation.runTo(UNTIL, pause));
	const levelsOf = (i: number) => {
		let level = recorder.initial[i];
		const edges = new Set(recorder.edges[i]);
		return Array.from({ length: UNTIL }, (_, t) => {
			if (edges.has(t)) level = level === 1 ? 0 : 1;
			return level;
		});
	};
	return {
		outputs: Object.fromEntries(simulation.names.map((name, i) => [name, levelsOf(i)])),
		updates: Object.fromEntries(system.timers.map(({ id }, i) => [id, recorder.updates[i] ?? []])),
		captures: Object.fromEntries(system.timers.map(({ id }, i) => [id, recorder.captures[i] ?? []])),
		last: system.timers.map((_, i) => simulation.valueOf(i))
	};
}

/** The same by way of stretches that repeat. */
function predicted(system: SimSystem) {
	const predictor = new Predictor(system, Rational.one);
	predictor.runTo(UNTIL);
	const { outputs, timers, final } = predictor.prediction();
	const all = Array.from({ length: UNTIL }, (_, t) => t);
	return {
		counters: Object.fromEntries([...timers].map(([id, { counter }]) => [id, all.map((t) => counter.at(t))])),
		captures: Object.fromEntries(
			[...timers].map(([id, { captures }]) => [
				id,
				Array.from({ length: captures.count }, (_, i) => [captures.point(i).time, captures.point(i).value])
			])
		),
		references: Object.fromEntries(
			[...timers].flatMap(([id, { references }]) =>
				[...references].map(([channel, trace]) => [`${id}.${channel}`, all.map((t) => trace.levelAfter(trace.edgesBefore(t + 1)))])
			)
		),
		outputs: Object.fromEntries(
			[...outputs].map(([name, trace]) => [name, Array.from({ length: UNTIL }, (_, t) => trace.levelAfter(trace.edgesBefore(t + 1)))])
		),
		updates: Object.fromEntries([...timers].map(([id, { updates }]) => [id, [...updates.times64(0, updates.count)]])),
		last: system.timers.map(({ id }) => final.get(id))
	};
}

const SEEDS = Array.from({ length: 10 }, (_, i) => i * 50);

/** Both ways of running a system against the stepper; a reference that never moves may be left out. */
function compare(system: SimSystem, seed: number): void {
	const { values, references, ...want } = stepSystem(system, UNTIL);
	const last = system.timers.map(({ id }) => values[id].at(-1));
	expect({ seed, ...simulated(system) }).toEqual({ seed, ...want, last });
	const { counters, references: told, ...got } = predicted(system);
	expect({ seed, ...got }).toEqual({ seed, ...want, last });
	expect({ seed, counters }).toEqual({ seed, counters: values });
	for (const [name, levels] of Object.entries(references))
		expect({ seed, name, levels: told[name] ?? levels.map(() => levels[0]) }).toEqual({ seed, name, levels });
}

describe('the simulator against the plain cycle stepper, steady stretches counted and only described', () => {
	test.each(SEEDS)('random systems from seed %i on', (first) => {
		for (let seed = first; seed < first + 50; seed++) compare(randomSystem(seed), seed);
	});
	test.each(SEEDS.slice(0, 4))('random systems with software’s part from seed %i on', (first) => {
		for (let seed = first; seed < first + 50; seed++) compare(softSystem(seed), seed);
	});
	test('a row 0 that turns a level at rest is no edge (found at seed 110)', () => {
		expect(simulated(randomSystem(110)).updates.t1[0]).toBe(196);
	});
	test('stopped after every moment and gone on, it tells the same', () => {
		for (let seed = 0; seed < 40; seed++) expect(simulated(randomSystem(seed), 1)).toEqual(simulated(randomSystem(seed)));
	});
});
