import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { Predictor } from '../sim/index.js';
import { freshAim, type Aim, type Stimulus } from '../aims/index.js';
import { derivePlan, fernhollow, type ChangeList, type Plan } from '../plan/index.js';
import { averageTables, deriveChanges, findGlitches, freshStimulus, planSystem } from '../predict/index.js';

const demo = fernhollow();
const planOf = (aims: Aim[], more: Partial<Plan> = {}): Plan => ({ ...demo, aims, stimuli: {}, changes: [], ...more });
const replayOf = (aim: Aim, stimulus: Stimulus) => planSystem(derivePlan(planOf([aim], { stimuli: { [aim.id]: stimulus } }))).replays[0];

describe('what aims that listen read', () => {
	const wind = demo.aims.find(({ id }) => id === 'wind')! as Extract<Aim, { kind: 'capture' }>;
	const square = (rate: string, more: object = {}): Stimulus => ({ kind: 'square', rate, duty: '50 %', jitter: '0', over: '2 s', ...more });

	test('every reading of a steady rate is the span between its edges, in ticks', () => {
		const { readings, reads, tickRate, edges } = replayOf(wind, square('50 Hz'));
		const every = reads.kind === 'rate' ? readings.over![0] : 0;
		expect(edges).toBe(99);
		expect(readings.wrong.every((one) => one === '')).toBe(true);
		const ticks = tickRate.toNumber() / 50;
		for (const count of readings.counts) expect(Math.abs(count - every * ticks)).toBeLessThanOrEqual(1);
		expect(readings.counts.length).toBe(Math.floor(99 / every) - 1);
	});
	test('an interval beyond the counter goes round it, and says so; counted overflows mend it', () => {
		const slow = square('0.25 Hz', { over: '30 s' });
		const wrapped = replayOf(wind, slow);
		expect(new Set(wrapped.readings.wrong)).toEqual(new Set(['wrapped']));
		const full = 2 ** 16;
		const real = Math.round(4 * wrapped.tickRate.toNumber());
		expect(Math.abs(wrapped.readings.counts[0] - (real % full))).toBeLessThanOrEqual(1);
		const counted = replayOf({ ...wind, overflows: 'counted' }, slow);
		expect(counted.readings.wrong.every((one) => one === '')).toBe(true);
		expect(Math.abs(counted.readings.counts[0] - 4 * counted.tickRate.toNumber())).toBeLessThanOrEqual(1);
	});
	test('a service longer than two intervals loses captures', () => {
		// Edges come every 20 ms.
		const { readings } = replayOf({ ...wind, every: '1', service: '100 ms' }, square('50 Hz'));
		expect(readings.wrong.filter((one) => one === 'overwritten').length).toBeGreaterThan(10);
	});
	test('an encoder that is faster than its filter loses counts; a slower one keeps every one', () => {
		const azimuth = demo.aims.find(({ id }) => id === 'azimuth')!;
		const legs = (speed: string): Stimulus => ({ kind: 'quadrature', jitter: '0', legs: [{ id: 'l', speed, over: '5 ms' }] });
		const slow = replayOf(azimuth, legs('6 rpm')).readings;
		expect([slow.wrong.length, slow.wrong.at(-1)]).toEqual([1, '']);
		expect(slow.counts.at(-1)).toBe(slow.truth.at(-1));
		const fast = replayOf(azimuth, legs('90000 rpm')).readings;
		expect(fast.wrong.at(-1)).toBe('missed');
	});
	test('widths are read in ticks, and those outside the window are told', () => {
		const width = freshAim('width', 'w', 'w', 'timer-f', { shortest: '1 ms', longest: '10 ms', step: '1 %' });
		const { readings, tickRate } = replayOf(width, { kind: 'echo', every: '', from: '500 us', to: '10 ms', over: '1 s' });
		readings.counts.forEach((count, i) => {
			const real = (readings.truth[i] * tickRate.toNumber()) / 72e6;
			expect(Math.abs(count - real)).toBeLessThanOrEqual(1);
			// At the very ends of the window one count more or less decides.
			const short = (readings.truth[i] / 72e6) * 1000;
			if (Math.abs(short - 1) > 0.01 && short < 9.9) expect(readings.wrong[i]).toBe(short < 1 ? 'outside' : '');
		});
	});
	test('what cannot be read is told by field, and leaves the line still', () => {
		const { inputs, unplanned } = planSystem(derivePlan(planOf([wind], { stimuli: { wind: square('fast') } })));
		expect(Object.keys(inputs.get('wind')!.problems)).toEqual(['rate']);
		expect(unplanned).toEqual([{ aim: 'wind', why: 'no-input' }]);
	});
	test('a fresh stimulus fits the aim', () => {
		expect(freshStimulus(wind)).toMatchObject({ kind: 'sweep', from: wind.lowest, to: wind.highest });
	});
});

describe('writes while it runs', () => {
	const heater = { ...freshAim('pwm', 'h', 'h', 'timer-d', { channel: 'ch1' }), rate: '1 kHz', duty: '25 %' };
	const list = (change: Partial<ChangeList> = {}): ChangeList => ({
		id: 'c',
		timer: 'timer-d',
		pace: 'times',
		every: '1',
		lag: '60',
		apart: '4',
		order: 'reload-first',
		loop: 'no',
		rows: [{ id: 'r1', at: '5.1 ms', rate: '2 kHz', prescale: '', duties: { ch1: '25 %' } }],
		...change
	});
	const run = (one: ChangeList) => {
		const planned = planSystem(derivePlan(planOf([heater], { changes: [one] })));
		const outcomes = [planned.system, planned.variants[0].system].map((system) => {
			const predictor = new Predictor(system, planned.unit);
			predictor.runTo(Math.round(0.02 / planned.unit.toNumber()));
			const story = predictor.prediction().timers.get('timer-d')!;
			return findGlitches(planned.changes[0], 1, story, 0.02 / planned.unit.toNumber());
		});
		return { planned, outcomes };
	};

	test('a step of frequency that keeps its duty: buffered it is clean, at once only if it comes early', () => {
		const { planned, outcomes } = run(list());
		const [row] = planned.changes[0].rows;
		// 72 MHz by 2, 18000 ticks of it a period.
		expect([row.prescale, row.ticks, row.active.ch1, row.hz.toNumber(), row.ppm!.sign]).toEqual([2, 18_000, 4_500, 2000, 0]);
		expect(planned.variants[0].outcome).toBe('immediate');
		expect(outcomes[0]).toEqual([]);
		// Written 7200 cycles after the update, at n = 3600: below the new compare of 4500, so even that period is a new one.
		expect(outcomes[1]).toEqual([]);
	});
	test('a reload lowered below the count runs the counter round its end', () => {
		const { outcomes } = run(list({ rows: [{ id: 'r1', at: '5.7 ms', rate: '2 kHz', prescale: '', duties: { ch1: '25 %' } }] }));
		expect(outcomes[0]).toEqual([]);
		// 72 MHz / 1 kHz needs a prescale of 2: 36000 ticks of 65536. At 5.7 ms n is 25200, above 17999.
		expect(outcomes[1].map(({ period, row }) => [period, row])).toEqual([[2 * 65_536, 'r1']]);
	});
	test('with a repeat count every period is looked at by itself', () => {
		const pair = freshAim('pair', 'p', 'p', 'timer-a', { rate: '1 kHz', duty: '25 %', repeat: '3' });
		const row = { id: 'r1', at: '5.7 ms', rate: '2 kHz', prescale: '', duties: { ch1: '25 %' } };
		const planned = planSystem(derivePlan(planOf([pair], { changes: [list({ timer: 'timer-a', rows: [row] })] })));
		const glitches = [planned.system, planned.variants[0].system].map((system) => {
			const predictor = new Predictor(system, planned.unit);
			predictor.runTo(Math.round(0.02 / planned.unit.toNumber()));
			return findGlitches(planned.changes[0], 1, predictor.prediction().timers.get('timer-a')!, 0.02 / planned.unit.toNumber());
		});
		expect(glitches[0]).toEqual([]);
		// At once the counter runs round once, and nothing else is amiss, though it lies among four periods of one update.
		expect(glitches[1].map(({ period }) => period)).toEqual([2 * 65_536]);
	});
	test('a rate written to a timer whose pin toggles is that of the pin', () => {
		const toggle = freshAim('toggle', 't', 't', 'timer-d', { rate: '1 kHz' });
		const rows = [
			{ id: 'r1', at: '5 ms', rate: '2 kHz', prescale: '', duties: {} },
			{ id: 'r2', at: '6 ms', rate: '0.01 Hz', prescale: '', duties: {} }
		];
		const [change] = planSystem(derivePlan(planOf([toggle], { changes: [list({ rows })] }))).changes;
		// 72 MHz / 2 kHz / 2: 18000 ticks at a prescale of 1.
		expect([change.rows[0].hz.toString(), change.rows[0].ticks]).toEqual(['2000/1', 18_000]);
		expect(change.problems.map(({ code, row }) => [code, row])).toEqual([['change-off', 'r2']]);
	});
	test('delays may be typed as times: a microsecond is 72 core cycles', () => {
		const { lag, apart } = run(list({ lag: '1 us', apart: '0.05 us' })).planned.changes[0];
		expect([lag, apart]).toEqual([72, 4]);
	});
	test('a reload without its compare moves the duty, which is said', () => {
		const { planned } = run(list({ rows: [{ id: 'r1', at: '5 ms', rate: '2 kHz', prescale: '', duties: {} }] }));
		expect(planned.changes[0].problems).toMatchObject([
			{ code: 'change-duty-moves', row: 'r1', channel: 'ch1', from: Rational.ratio(1, 4), to: Rational.ratio(1, 2) }
		]);
	});
	test('writes of one row on both sides of an update leave one period mixed', () => {
		// The update at 6 ms is cycle 432000; the reload comes 2 cycles before it, the compare 4 later.
		const at = `${(432_000 - 2) / 72_000} ms`;
		const { outcomes } = run(list({ rows: [{ id: 'r1', at, rate: '2 kHz', prescale: '', duties: { ch1: '25 %' } }] }));
		expect(outcomes[0].map(({ at: when, on }) => [when, on])).toEqual([[432_000, 18_000]]);
	});
	test('rows with the updates: each at every fourth, and from the beginning again', () => {
		const rows = [1, 2].map((k) => ({ id: `r${k}`, at: '', rate: `${k + 1} kHz`, prescale: '', duties: { ch1: '25 %' } }));
		const { planned, outcomes } = run(list({ pace: 'updates', every: '4', loop: 'yes', rows, lag: '20', apart: '0' }));
		expect(planned.system.timers[0].sequences![0]).toMatchObject({ every: 4, loop: true, lag: 20 });
		expect(outcomes[0]).toEqual([]);
		const predictor = new Predictor(planned.system, planned.unit);
		predictor.runTo(72_000 * 30);
		const { updates } = predictor.prediction().timers.get('timer-d')!;
		const gaps = [...updates.times64(0, 16)].map((time, i, all) => time - (i > 0 ? all[i - 1] : 0));
		// Written at update 4, 8, 12: acting from update 5, 9, 13 on.
		expect(gaps).toEqual([72, 72, 72, 72, 72, 36, 36, 36, 36, 24, 24, 24, 24, 72, 72, 72].map((k) => k * 1000));
	});
	test.each([
		['a rate that is none', { rows: [{ id: 'r', at: '1 ms', rate: 'fast', prescale: '', duties: {} }] }, 'change-field'],
		[
			'a time before the one above',
			{ rows: [2, 1].map((t) => ({ id: `r${t}`, at: `${t} ms`, rate: '', prescale: '', duties: { ch1: '1 %' } })) },
			'change-order'
		],
		['no rows', { rows: [] }, 'change-empty'],
		['a prescale beyond', { rows: [{ id: 'r', at: '1 ms', rate: '', prescale: '99999', duties: {} }] }, 'change-prescale'],
		['a timer without pins', { timer: 'timer-b' }, 'change-idle']
	])('says what is wrong: %s', (_, change, code) => {
		const made = deriveChanges(derivePlan(planOf([heater], { changes: [list(change)] })));
		expect(made[0].problems.map((one) => one.code)).toContain(code);
	});
	test('a timer whose updates feed a shape cannot have a second list', () => {
		const made = deriveChanges(derivePlan({ ...demo, changes: [list({ timer: 'timer-a' })] }));
		expect(made[0].problems.map(({ code }) => code)).toEqual(['change-fed']);
	});
});

describe('a shape behind its filter', () => {
	test('the focus coil is a sine of 40 % about 50 %, with the distortion of its steps', () => {
		const derivation = derivePlan(demo);
		const { system, unit } = planSystem(derivation);
		const predictor = new Predictor(system, unit);
		predictor.runTo(Math.round(0.05 / unit.toNumber()));
		const [coil] = averageTables(derivation, predictor.prediction());
		expect(coil.seconds).toBeCloseTo(1 / 125, 12);
		expect(coil.pin.mean).toBeCloseTo(0.5, 3);
		expect(coil.pin.amplitudes[0]).toBeCloseTo(0.4, 3);
		// 1 kOhm and 1 uF: a corner of 159.2 Hz; at 125 Hz the rest is 0.4 / root(1 + (125 / 159.15)^2).
		expect(coil.after.amplitudes[0]).toBeCloseTo(0.4 / Math.hypot(1, 125 / 159.155), 3);
		expect(coil.after.distortion).toBeLessThan(coil.pin.distortion / 50);
		expect(Math.max(...coil.filtered) + Math.min(...coil.filtered)).toBeCloseTo(1, 1);
		expect(coil.means.length).toBe(160);
	});
});
