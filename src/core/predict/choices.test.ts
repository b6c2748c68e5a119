import { describe, expect, test } from 'vitest';
import { differences } from '../../../tests/unit/derivedPredicted.js';
import { Rational } from '../exact/index.js';
import { Predictor } from '../sim/index.js';
import { freshAim, type Aim, type AimOf } from '../aims/index.js';
import { checkPlan } from '../check/index.js';
import { derivePlan, fernhollow, type Plan } from '../plan/index.js';
import { planSystem } from './index.js';

/** Heron-32 at 72 MHz, as in the demo. */
const demo = fernhollow();
const planOf = (...aims: Aim[]): Plan => ({ ...demo, aims, stimuli: {}, changes: [] });
const codes = (plan: Plan) => checkPlan(derivePlan(plan)).map(({ code }) => code);

function predicted(plan: Plan, seconds: number) {
	const derivation = derivePlan(plan);
	const planned = planSystem(derivation);
	const predictor = new Predictor(planned.system, planned.unit);
	predictor.runTo(Math.round(seconds / planned.unit.toNumber()));
	const prediction = predictor.prediction();
	const edges = (output: string, count: number) => [...prediction.outputs.get(output)!.times64(0, count)];
	return { derivation, planned, prediction, edges };
}

describe('where up-down counting updates', () => {
	const pair = (change: Partial<AimOf<'pair'>>) => freshAim('pair', 'p', 'p', 'timer-a', { rate: '20 kHz', align: 'updown', ...change });
	test.each([
		['bottom', 20_000],
		['top', 20_000],
		['both', 40_000]
	] as const)('at the %s: %i updates a second', (updates, rate) => {
		const plan = planOf(pair({ updates }));
		const { derivation, prediction } = predicted(plan, 0.01);
		const figure = derivation.aims[0].figures.find(({ name }) => name === 'updates')!.value;
		expect(figure.toNumber()).toBe(rate);
		expect(Math.abs(prediction.timers.get('timer-a')!.updates.count - rate / 100)).toBeLessThanOrEqual(1);
		expect(differences(plan)).toEqual([]);
	});
	test('two pairs on one timer that want it otherwise are told, as is what the timer does not offer or never needs', () => {
		const other = { ...pair({ updates: 'top', channel: 'ch2' }), id: 'q', name: 'q' };
		expect(codes(planOf(pair({ updates: 'both' }), other))).toContain('updates-shared');
		expect(codes(planOf(pair({ updates: 'both', align: 'up' })))).toContain('updates-idle');
		const shape = freshAim('table', 't', 't', 'timer-b', { align: 'updown', updates: 'top' });
		expect(codes(planOf(shape))).toContain('updates-refused');
	});
	test('a shape in up-down counting has its carrier centred', () => {
		const { derivation } = predicted(planOf(freshAim('table', 't', 't', 'timer-a', { align: 'updown', carrier: '20 kHz' })), 0.001);
		// 72 MHz / 20 kHz = 3600 = 2 x 1800.
		expect(derivation.aims[0].strip.find(({ name }) => name === 'reload')!.value).toBe(1800);
	});
	test('a way of counting that the timer has not is a finding', () => {
		expect(codes(planOf(freshAim('table', 't', 't', 'timer-f', { align: 'updown' })))).toContain('mode-missing');
	});
});

describe('slow legs of a bridge', () => {
	const bridge = (change: Partial<AimOf<'table'>>) =>
		freshAim('table', 't', 't', 'timer-a', {
			second: 'ch2',
			wave: 'half',
			carrier: '20 kHz',
			base: '100 Hz',
			offset: '0 %',
			amplitude: '90 %',
			lag: '36',
			legs: 'switched',
			plus: 'C1',
			minus: 'C2',
			legsAfter: '1',
			legsDead: '2 us',
			...change
		});
	test('are switched one period after the zero crossing, with their dead time: 200 rows of 3600 cycles', () => {
		const { edges } = predicted(planOf(bridge({})), 0.03);
		// Row 0 acts from the start, and at update 200; the plus leg follows a period, 36 cycles and 2 us later, and is on for half of the rows less the dead time.
		const plus = edges('timer-a.s0', 4);
		const minus = edges('timer-a.s1', 2);
		expect(plus).toEqual([3600 + 36 + 144, 101 * 3600 + 36, 201 * 3600 + 36 + 144, 301 * 3600 + 36]);
		expect(minus).toEqual([101 * 3600 + 36 + 144, 201 * 3600 + 36]);
	});
	test('crossing rows are those in which the fast outputs change', () => {
		const { edges } = predicted(planOf(bridge({})), 0.03);
		// The first pulse of the other half wave is that of row 101, the row after the one that crosses zero.
		const first = edges('timer-a.ch2', 1)[0];
		expect(Math.floor(first / 3600)).toBe(101);
	});
	test('a table that is a row late has its legs a row later', () => {
		const { edges } = predicted(planOf(bridge({ prefill: 'no' })), 0.03);
		expect(edges('timer-a.s0', 1)[0]).toBe(2 * 3600 + 36 + 144);
	});
	test('no dead time at all, and legs that never come on', () => {
		expect(predicted(planOf(bridge({ legsDead: '0' })), 0.03).edges('timer-a.s0', 1)).toEqual([3636]);
		expect(codes(planOf(bridge({ legsDead: '5 ms' })))).toContain('legs-late');
		expect(codes(planOf(bridge({ wave: 'full', offset: '50 %', amplitude: '40 %' })))).toContain('legs-need-halves');
	});
});

describe('rows of several outputs', () => {
	const rows = (own: string) =>
		freshAim('table', 't', 't', 'timer-a', {
			shape: 'own',
			own,
			further: ['ch2', 'ch3'],
			amplitude: '100 %',
			offset: '0 %',
			prefill: 'yes'
		});
	test('each output has its compare, and all of a row one period', () => {
		const { derivation, edges } = predicted(planOf(rows('10 %, 20 %, 30 %, 100 us\n50 %; 60 %; 0 %; 200 us')), 0.002);
		// 100 us are 7200 ticks, 200 us 14400.
		expect(derivation.aims[0].run.rows).toEqual([
			{ compare: { ch1: 720, ch2: 1440, ch3: 2160 }, reload: 7199 },
			{ compare: { ch1: 7200, ch2: 8640, ch3: 0 }, reload: 14_399 }
		]);
		// With both buffers filled row 1 acts from the first update on.
		expect(edges('timer-a.ch2', 3)).toEqual([1440, 7200, 7200 + 8640]);
	});
	test('a row with too few values says which', () => {
		expect(codes(planOf(rows('10 %, 20 %, 30 %\n50 %, 60 %')))).toContain('row-uneven');
	});
	test('a channel twice is refused', () => {
		const twice = { ...rows('1,1,1\n0,0,0'), further: ['ch2', 'ch2'] } as Aim;
		expect(codes(planOf(twice))).toContain('place-missing');
	});
});

describe('a shot that toggles', () => {
	test('turns the pin once a shot, its delay after the trigger', () => {
		const aim = freshAim('oneshot', 'o', 'o', 'timer-f', { input: 'in1', each: 'toggle', delay: '100 us', width: '5 ms' });
		const plan: Plan = {
			...planOf(aim),
			stimuli: { o: { kind: 'square', rate: '50 Hz', duty: '50 %', jitter: '0', over: '200 ms' } }
		};
		const { derivation, planned, edges } = predicted(plan, 0.2);
		const [{ figures, problems }] = derivation.aims;
		expect(problems.filter(({ severity }) => severity === 'fault')).toEqual([]);
		const rises = planned.system.inputs['o.trigger'].edges;
		const latency = figures
			.find(({ name }) => name === 'latency')!
			.value.div(planned.unit)
			.toNumber();
		const pin = edges('timer-f.ch1', 3);
		expect(pin).toEqual([0, 2, 4].map((i) => rises[i] + 7200 + latency));
		// Each shot ends the level of the one before: a period of two shots.
		expect(derivation.aims[0].figures.some(({ name }) => name === 'width')).toBe(false);
	});
});

describe('a knob', () => {
	const lamp = freshAim('pwm', 'lamp', 'lamp', 'timer-d', { channel: 'ch1', rate: '1 kHz', duty: '10 %' });
	const knob = (change: Partial<AimOf<'encoder'>>) =>
		freshAim('encoder', 'k', 'k', 'timer-b', {
			cycles: '24',
			range: '0..71',
			ends: 'clamp',
			low: '0 %',
			high: '100 %',
			drives: 'lamp',
			...change
		});
	test('a count sets the compare: 71 steps of 507 ticks and a bit, each rounded', () => {
		const made = derivePlan(planOf(lamp, knob({}))).aims[1];
		expect(made.figures.find(({ name }) => name === 'active-per-count')!.value.toString()).toBe(Rational.ratio(36_000, 71).toString());
		// 37 x 36000 / 71 = 18760.56
		expect(made.table!.ask!.row(37)!.map(String).slice(0, 3)).toEqual(['37/1', '37/71', '18761/1']);
	});
	test('what turns it is what the pin does', () => {
		const plan = planOf(lamp, knob({ start: '0' }));
		const { planned, prediction } = predicted(plan, 2);
		const [first] = planned.system.writes;
		expect(first).toMatchObject({ timer: 'timer-d', register: 'compare:ch1' });
		const pin = prediction.outputs.get('timer-d.ch1')!;
		const last = planned.system.writes.at(-1)!;
		// After the last write the pin is high for its compare.
		const at = pin.edgesBefore(last.at + 3 * 72_000);
		const [a, b] = [pin.edgeTime(at), pin.edgeTime(at + 1)];
		const high = pin.levelAfter(at + 1) === 1 ? b - a : pin.edgeTime(at + 2) - b;
		// A tick is two cycles of the base clock.
		expect(high).toBe(2 * last.value);
	});
	test('that drives nothing, or more counts than the duty has steps, is told', () => {
		expect(codes(planOf(lamp, knob({ drives: 'gone' })))).toContain('knob-nothing');
		const fine = { ...lamp, rate: '1 MHz', bits: '0' } as Aim;
		expect(codes(planOf(fine, knob({ range: '1000 counts' })))).toContain('knob-idle');
	});
	test('stands before the aim it drives and still knows it', () => {
		expect(codes(planOf(knob({}), lamp))).not.toContain('knob-nothing');
	});
});

describe('what is not enabled', () => {
	const drive = freshAim('pwm', 'p', 'p', 'timer-d', { channel: 'ch1' });
	const tick = freshAim('tick', 't', 't', 'timer-g', { every: '1 ms' });
	test('an output that is off rests, and says so', () => {
		const plan = planOf({ ...drive, enable: 'off' });
		expect(codes(plan)).toContain('output-off');
		const [lane] = planSystem(derivePlan(plan)).lanes;
		expect(lane.shows).toMatchObject({ kind: 'level', trace: { initial: 0, count: 0 } });
		const low = planSystem(derivePlan(planOf({ ...drive, polarity: 'low', enable: 'off' }))).lanes[0];
		expect(low.shows).toMatchObject({ trace: { initial: 1 } });
	});
	test.each([
		['interrupt-off', { interrupt: 'off' }],
		['flag-kept', { flag: 'kept' }],
		['priority-differs', { priority: '2', handler: '1' }]
	] as const)('%s', (code, change) => {
		expect(codes(planOf({ ...tick, ...change }))).toContain(code);
		// A tick that is polled needs no interrupt.
		expect(codes(planOf({ ...tick, ...change, notice: 'polling' }))).not.toContain(code);
	});
	test('equal priorities, in whatever notation, are none', () => {
		expect(codes(planOf({ ...tick, priority: '0x10', handler: '16' }))).not.toContain('priority-differs');
	});
	test('rows are written while the interrupt lets them be', () => {
		const shape = freshAim('table', 's', 's', 'timer-a', { carrier: '20 kHz', base: '100 Hz' });
		const widths = (change: Partial<Aim>) => {
			const { edges } = predicted(planOf({ ...shape, ...change } as Aim), 0.001);
			const times = edges('timer-a.ch1', 20);
			return new Set(Array.from({ length: 10 }, (_, i) => times[2 * i + 1] - times[2 * i])).size;
		};
		expect(widths({})).toBeGreaterThan(8);
		// Row 0, and row 1 which waited in the buffer; with a flag that stays set one more.
		expect([widths({ interrupt: 'off' }), widths({ flag: 'kept' })]).toEqual([2, 3]);
	});
	test('captures that nobody serves are not read', () => {
		const rate = demo.aims.find(({ id }) => id === 'wind')!;
		const readings = (change: Partial<Aim>) => planSystem(derivePlan(planOf({ ...rate, ...change } as Aim))).replays[0].readings.at.length;
		expect([readings({ interrupt: 'off' }), readings({ flag: 'kept' }), readings({}) > 1]).toEqual([0, 1, true]);
	});
});
