import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { shippedPart, type CountingMode } from '../part/index.js';
import { Predictor } from '../sim/index.js';
import { StretchedTrace } from '../trace/index.js';
import { freshAim, type Aim, type Stimulus } from '../aims/index.js';
import { derivePlan, fernhollow, fernhollowVane, type Plan } from '../plan/index.js';
import { topOf } from './index.js';
import { averageTables, planSystem, predictScore, stimulusKinds, stimulusProblems, type RecordedLines } from '../predict/index.js';

const demo = fernhollow();
const planOf = (aims: Aim[], more: Partial<Plan> = {}): Plan => ({ ...demo, aims, stimuli: {}, changes: [], ...more });

function predicted(plan: Plan, seconds: number) {
	const derivation = derivePlan(plan);
	const planned = planSystem(derivation);
	const predictor = new Predictor(planned.system, planned.unit);
	predictor.runTo(Math.round(seconds / planned.unit.toNumber()));
	return { derivation, planned, prediction: predictor.prediction() };
}

describe('ticks in every way of counting', () => {
	const MODES: CountingMode[] = ['up', 'down', 'updown', 'free', 'preload', 'tap', 'advance', 'clear'];
	const places = ['heron-32', 'plover-16', 'sprat-8'].flatMap((id) => {
		const part = shippedPart(id)!;
		return part.timers.flatMap((timer) => timer.modes.filter((mode) => MODES.includes(mode)).map((mode) => ({ part, timer, mode })));
	});
	test.each(places.map((place): [string, (typeof places)[number]] => [`${place.part.name} ${place.timer.name} ${place.mode}`, place]))(
		'%s beats as it is derived',
		(_, { part, timer, mode }) => {
			const aim = freshAim('tick', 't', 't', timer.id, { mode, every: '700 us', tolerance: '90 %', service: '20' });
			const { derivation, planned, prediction } = predicted({ ...demo, part, clock: {}, aims: [aim], stimuli: {}, changes: [] }, 0.2);
			const [{ run, kernel }] = derivation.aims;
			if (!run.interval || !kernel) return;
			const story = prediction.timers.get(timer.id)!;
			const cycles = run.interval.seconds.div(planned.unit).toNumber();
			// Of a postscaler's updates only some are the tick's.
			const lane = planned.lanes.find(({ role }) => role === 'events')?.shows;
			const events = (lane?.kind === 'events' && lane.own) || story.updates;
			const times = [...events.times64(0, Math.min(6, events.count))];
			const gaps = times.slice(1).map((time, i) => time - times[i]);
			// What is too slow for the span has no second beat to be measured.
			if (gaps.length > 0) expect(new Set(gaps)).toEqual(new Set([cycles]));
		}
	);
	test('a postscaler makes a longer tick of an 8-bit timer, each of its events at a whole update', () => {
		const part = shippedPart('sprat-8')!;
		const of = (locks: Record<string, string>) => {
			const aim = freshAim('tick', 't', 't', 'timer-2', { mode: 'up', every: '250 ms', tolerance: '0.1 %', service: '20', locks });
			return predicted({ ...demo, part, clock: { source: 'crystal', core: '1' }, aims: [aim], stimuli: {}, changes: [] }, 2);
		};
		const { derivation, planned, prediction } = of({});
		const [{ strip, problems, figures }] = derivation.aims;
		const post = strip.find(({ name }) => name === 'postscale')!;
		// 12 MHz / 1024 x 0.25 s are 2929.7 ticks: more than 256, and 16 times 256 are enough.
		expect([post.value > 1, post.register!.value, problems]).toEqual([true, post.value - 1, []]);
		const period = figures.find(({ name }) => name === 'period')!.value;
		const { updates } = prediction.timers.get('timer-2')!;
		expect(updates.edgeTime(post.value - 1)).toBe(period.div(planned.unit).toNumber());
		expect(of({ postscale: '17' }).derivation.aims[0].problems.map(({ code }) => code)).toEqual(['lock-refused']);
		expect(of({ postscale: '3' }).derivation.aims[0].strip.find(({ name }) => name === 'postscale')!.value).toBe(3);
	});
	test('two ticks that advance on one timer are told by their own beats', () => {
		const part = shippedPart('plover-16')!;
		const timer = part.timers.find(({ modes }) => modes.includes('advance'))!;
		const tick = (id: string, every: string) =>
			freshAim('tick', id, id, timer.id, { mode: 'advance', every, tolerance: '5 %', service: '20' });
		const board = { ...fernhollowVane(), aims: [tick('a', '1 ms'), tick('b', '300 us')] };
		const { derivation, planned } = predicted(board, 0.001);
		expect(planned.system.timers.map(({ mode }) => mode)).toEqual(['free']);
		for (const job of derivation.aims) {
			const lane = planned.lanes.find(({ aim, role }) => aim === job.aim.id && role === 'events')!;
			const own = lane.shows.kind === 'events' ? lane.shows.own! : undefined;
			const cycles = job.run.interval!.seconds.div(planned.unit).toNumber();
			expect([own!.edgeTime(0), own!.edgeTime(99)]).toEqual([cycles, 100 * cycles]);
		}
	});
	test('a cascade behind a centre-aligned pulse counts both updates of each period', () => {
		const centred = { ...freshAim('pwm', 'l', 'l', 'timer-d', { channel: 'ch1' }), rate: '1 kHz', align: 'updown' as const };
		const cascade = freshAim('follower', 'f', 'f', 'timer-h', { leader: 'l', action: 'clock', rate: '10 Hz', tolerance: '1 %' });
		const { derivation, prediction } = predicted(planOf([centred, cascade]), 1);
		expect(derivation.aims[1].figures.find(({ name }) => name === 'rate')!.value.toString()).toBe('10/1');
		expect(prediction.timers.get('timer-d')!.updates.edgesBefore(72_000_000)).toBe(1999);
		const { updates } = prediction.timers.get('timer-h')!;
		expect(updates.edgeTime(1) - updates.edgeTime(0)).toBe(7_200_000);
	});
	test('an interrupt’s service is shown behind it, hardware’s is not', () => {
		const events = (notice: 'interrupt' | 'hardware') => {
			const tick = freshAim('tick', 't', 't', 'timer-d', { every: '1 ms', service: '720', notice });
			const { shows } = planSystem(derivePlan(planOf([tick]))).lanes.find(({ role }) => role === 'events')!;
			return shows.kind === 'events' ? [shows.interrupts ?? false, shows.busy ?? 0] : [];
		};
		// 720 core cycles of 72 MHz are 10 us, as many cycles of the base clock.
		expect(events('interrupt')).toEqual([true, 720]);
		expect(events('hardware')).toEqual([false, 0]);
	});
});

describe('lanes of the other kinds', () => {
	test('a pattern’s words come within their range, at both ends of it', () => {
		const strobe = { ...demo.aims.find(({ id }) => id === 'strobe')!, least: '10', most: '40' } as Aim;
		const { prediction, planned } = predicted(planOf([strobe]), 0.002);
		const { updates } = prediction.timers.get('timer-g')!;
		const line = prediction.outputs.get('timer-g.p12')!;
		const lags = [...line.times64(0, 64)].map((time) => time - updates.edgeTime(updates.edgesBefore(time + 1) - 1));
		const core = planned.unit.inverse().toNumber() / 72e6;
		expect([Math.min(...lags), Math.max(...lags)]).toEqual([10 * core, 40 * core]);
	});
	test('a pulse written at once where its timer lets it choose has no buffer', () => {
		const pulse = (writes: 'buffered' | 'immediate') =>
			planSystem(derivePlan(planOf([{ ...freshAim('pwm', 'p', 'p', 'timer-d', { channel: 'ch1' }), writes }]))).system.timers[0].channels[0]
				.buffered;
		expect(pulse('buffered')).toBe(true);
		const choice = demo.part.timers.find(({ id }) => id === 'timer-d')!.buffered?.compare ?? 'always';
		expect(pulse('immediate')).toBe(choice === 'always');
	});
	test('a pair shows what its reference is before dead time', () => {
		const { prediction } = predicted(demo, 0.001);
		const reference = prediction.timers.get('timer-a')!.references.get('ch1')!;
		const main = prediction.outputs.get('timer-a.ch1')!;
		// Main rises 36 cycles, 500 ns of 72 MHz, after its reference and falls with it.
		const at = reference.edgesBefore(30_000);
		const rise = reference.levelAfter(at + 1) === 1 ? at : at + 1;
		const same = main.edgesBefore(reference.edgeTime(rise) + 1);
		expect([main.edgeTime(same) - reference.edgeTime(rise), main.edgeTime(same + 1)]).toEqual([36, reference.edgeTime(rise + 1)]);
	});
	test('a counter is drawn up to its reload, or over its whole width', () => {
		const { staves, whole, unit } = predictScore(derivePlan(demo));
		const top = (timer: string) => staves.find((stave) => stave.timer === timer)!.top;
		expect([whole, top('timer-d'), top('timer-f')]).toEqual([true, 59_999, 65_535]);
		expect(unit.toString()).toBe('1/72000000');
		const { system } = planSystem(derivePlan(demo));
		const free = system.timers.find(({ id }) => id === 'timer-f')!;
		expect(topOf({ ...free, width: 8 }, staves[0].counter)).toBe(255);
	});
	test('with two outputs the difference is averaged: halves of a sine about nothing', () => {
		const coil = demo.aims.find(({ id }) => id === 'focus-coil')! as Extract<Aim, { kind: 'table' }>;
		const halves: Aim = { ...coil, second: 'ch3', wave: 'half', amplitude: '80 %', offset: '0 %' };
		const { derivation, prediction } = predicted(planOf([halves]), 0.05);
		const [found] = averageTables(derivation, prediction);
		expect(found.pin.mean).toBeCloseTo(0, 6);
		expect(found.pin.amplitudes[0]).toBeCloseTo(0.8, 2);
		expect(Math.min(...found.means.map(([, value]) => value))).toBeCloseTo(-0.8, 2);
	});
	test('a shape whose filter cannot be read has no averages, and says which part', () => {
		const coil = { ...demo.aims.find(({ id }) => id === 'focus-coil')!, capacitance: '100 Hz' } as Aim;
		const { derivation, prediction } = predicted(planOf([coil]), 0.05);
		expect(averageTables(derivation, prediction)).toEqual([]);
		expect(Object.keys(derivation.aims[0].fields)).toEqual(['capacitance']);
	});
});

describe('inputs', () => {
	test('each capture is an interrupt that takes its service', () => {
		const { lanes } = planSystem(derivePlan(demo));
		const shows = lanes.find(({ aim, role }) => aim === 'wind' && role === 'captures')!.shows;
		if (shows.kind !== 'events') throw new Error('no events');
		expect([shows.interrupts, shows.own === shows.captures, shows.busy]).toEqual([true, true, 60]);
	});
	const wind = demo.aims.find(({ id }) => id === 'wind')! as Extract<Aim, { kind: 'capture' }>;
	test('edges counted for a gate: as many as came, gate by gate', () => {
		const aim: Aim = { ...wind, method: 'gated', gate: '100 ms', lowest: '100 Hz', highest: '10 kHz', step: '20 %' };
		const stimuli: Record<string, Stimulus> = { wind: { kind: 'square', rate: '1 kHz', duty: '50 %', jitter: '0', over: '1 s' } };
		const { replays } = planSystem(derivePlan(planOf([aim], { stimuli })));
		const [{ readings, reads }] = replays;
		expect(reads.kind).toBe('gated');
		// The first edge comes after a whole period: 99 in the first gate, 100 in each of the others.
		expect(readings.counts.slice(0, 4)).toEqual([99, 100, 100, 100]);
		expect(readings.counts).toEqual(readings.truth);
	});
	test('a recorded line is replayed from its first edge on, on the base clock', () => {
		const line = new StretchedTrace(
			Rational.ratio(1, 1000),
			0,
			Float64Array.from({ length: 200 }, (_, i) => 5 + 10 * i),
			[]
		);
		const recorded: RecordedLines = (recording, name) => (recording === 'r' && name === 'cups' ? line : undefined);
		const stimuli = (name: string): Record<string, Stimulus> => ({
			wind: { kind: 'recorded', recording: 'r', line: name, second: '', log: '' }
		});
		const planned = planSystem(derivePlan(planOf([wind], { stimuli: stimuli('cups') })), recorded);
		// An edge every 10 ms is a rate of 50 Hz.
		const { readings, tickRate, reads } = planned.replays[0];
		const every = reads.kind === 'rate' ? readings.over![0] : 0;
		for (const count of readings.counts) expect(Math.abs(count - (every * tickRate.toNumber()) / 50)).toBeLessThanOrEqual(1);
		const missing = planSystem(derivePlan(planOf([wind], { stimuli: stimuli('vane') })), recorded);
		expect([missing.inputs.get('wind')!.missing, missing.unplanned[0].why]).toEqual(['vane', 'no-input']);
	});
	test('bounces that the filter rejects are no captures', () => {
		const channel = demo.part.timers.find(({ id }) => id === wind.timer)!.channels.find(({ id }) => id === wind.channel)!;
		const filters = channel.capture!.filters ?? [];
		const slowest = String(filters.length - 1);
		const contact: Stimulus = { kind: 'contact', first: '1 ms', every: '20 ms', times: '20', held: '10 ms', bounce: '1 us', bounces: '2' };
		const run = (filter: string) => planSystem(derivePlan(planOf([{ ...wind, filter }], { stimuli: { wind: contact } }))).replays[0];
		const [open, filtered] = [run('none'), run(slowest)];
		// Each closing has two bounces, and so has each opening: five rises a press.
		expect([open.edges, filtered.edges]).toEqual([100, 100]);
		expect(filtered.accepted).toBeLessThan(open.accepted);
	});
	test.each([
		['oneshot', ['contact', 'square', 'recorded']],
		['encoder', ['quadrature', 'recorded']],
		['pwm', []]
	] as const)('a %s is offered what can come to it', (kind, kinds) => {
		expect(stimulusKinds(demo.aims.find((aim) => aim.kind === kind)!)).toEqual(kinds);
	});
	test('every field of a stimulus says what is wrong with it', () => {
		const bad: Stimulus = { kind: 'contact', first: 'x', every: '-1', times: '0', held: '0 s', bounce: '5', bounces: '1.5' };
		expect(
			Object.keys(
				stimulusProblems(
					demo.aims.find(({ id }) => id === 'shutter')!,
					bad
				)
			).sort()
		).toEqual(['bounce', 'bounces', 'every', 'first', 'held', 'times']);
		const legs: Stimulus = { kind: 'quadrature', jitter: '0', legs: [{ id: 'l', speed: '3 ms', over: 'soon' }] };
		const azimuth = demo.aims.find(({ id }) => id === 'azimuth')!;
		expect(stimulusProblems(azimuth, legs)).toEqual({
			'l.speed': { reason: 'wrong-dimension', expected: 'speed' },
			'l.over': { reason: 'no-number', expected: 'time' }
		});
	});
});
