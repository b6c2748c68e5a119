import { describe, expect, test } from 'vitest';
import { type AimOf, freshAim } from '../../../core/aims/index.js';
import { type Plan, applyStep, derivePlan, fernhollow } from '../../../core/plan/index.js';
import { checkPlan } from '../../../core/check/index.js';
import { predictScore } from '../../../core/predict/index.js';
import { layScore, linkStep, naiveLags, wiresBetween } from './relay.js';

const demo = fernhollow();

const scoreOf = (plan: Plan) => layScore(derivePlan(plan), predictScore(derivePlan(plan)));

describe('the score', () => {
	const score = scoreOf(demo);
	test('spans a little more than two periods of the leader, leaders above their followers', () => {
		// 60000 cycles of 72 MHz, 2.25 times.
		expect(score.seconds).toBeCloseTo((2.25 * 60_000) / 72e6, 12);
		expect(score.staves.slice(0, 3).map(({ timer }) => timer.id)).toEqual(['timer-d', 'timer-h', 'timer-c']);
	});
	test('draws counters as the simulator counts them', () => {
		const [leader, second] = score.staves;
		for (const t of [0, 7_499, 59_999, 60_000, 100_001]) expect(leader.counter.at(t)).toBe(t % 60_000);
		// The follower waits at 0 until 20000 cycles have gone.
		expect(second.counter.at(19_999)).toBe(0);
		for (const t of [20_000, 79_999, 80_000]) expect(second.counter.at(t)).toBe((t - 20_000) % 60_000);
	});
	test('has an arrow from each match to the start that it makes', () => {
		expect(score.arrows.map(({ from, to, source, value }) => [from, to, source, value])).toEqual([
			['timer-d', 'timer-h', 'match:ch2', 19_999],
			['timer-d', 'timer-c', 'match:ch3', 39_999]
		]);
		const [{ at, acts }] = score.arrows;
		expect([Math.round(at! * 72e6), Math.round(acts! * 72e6)]).toEqual([19_999, 20_000]);
	});
	test('is empty without timers', () => expect(scoreOf({ ...demo, aims: [] }).staves).toEqual([]));
	test('a fast timer beside a slow one is drawn to the end: its steady stretch is only described', () => {
		const slow = { ...freshAim('pwm', 's', 'slow', 'timer-b', { channel: 'ch1' }), rate: '0.1 Hz' };
		const fast = { ...freshAim('pwm', 'f', 'fast', 'timer-d', { channel: 'ch1' }), rate: '1 MHz', bits: '4' };
		const long = scoreOf({ ...demo, aims: [slow, fast] });
		expect([long.whole, long.seconds]).toEqual([true, expect.closeTo(22.5, 6)]);
		const { pulse } = derivePlan({ ...demo, aims: [fast] }).aims[0];
		const [, second] = long.staves;
		expect(second.counter.at(1_620_000_000 - 1)).toBe((1_620_000_000 - 1) % (pulse!.ticks * pulse!.prescale));
	});
	test('the naive third costs 1.2 and 2.4 degrees', () => {
		const naive = naiveLags(demo);
		// 33 % of 360 is 118.8, 66 % is 237.6.
		expect([...naive].map(([id, { typed, degrees }]) => [id, typed, degrees.toString()])).toEqual([
			['heater-b', '33 %', '594/5'],
			['heater-c', '66 %', '1188/5']
		]);
	});
});

describe('links', () => {
	test('the part’s wires say by which input', () => {
		expect(wiresBetween(demo.part, 'timer-d', 'timer-c').map(({ input }) => input)).toEqual(['in3']);
		expect(wiresBetween(demo.part, 'timer-d', 'timer-f')).toEqual([]);
	});
	test('an impossible one says what each of the two can have', () => {
		expect(linkStep(demo, 'timer-d', 'timer-f', '1/3')).toEqual({
			kind: 'no-wire',
			reaches: ['Timer A', 'Timer B', 'Timer C', 'Timer E', 'Timer H'],
			reached: ['Timer B', 'Timer C'],
			nearest: 'timer-a'
		});
	});
	test('a follower that is there gets the new leader; another timer gets a follower', () => {
		const lead = { ...freshAim('pwm', 'p', 'pulse', 'timer-e', { channel: 'ch1' }), rate: '1 kHz' };
		const plan: Plan = { ...demo, aims: [...demo.aims.filter(({ timer }) => timer !== 'timer-e' && timer !== 'timer-b'), lead] };
		const moved = linkStep(plan, 'timer-e', 'timer-h', '1/4');
		const after = moved.kind === 'step' ? applyStep(plan, moved.step) : plan;
		const follower = after.aims.find(({ id }) => id === 'heater-b') as AimOf<'follower'>;
		expect([follower.leader, follower.lag]).toEqual(['p', '1/4']);
		expect(checkPlan(derivePlan(after)).filter(({ aim }) => aim === 'heater-b')).toEqual([]);
		const added = linkStep(plan, 'timer-d', 'timer-b', '1/2');
		const grown = added.kind === 'step' ? applyStep(plan, added.step) : plan;
		expect(grown.aims.at(-1)).toMatchObject({ kind: 'follower', timer: 'timer-b', leader: 'heater-a', lag: '1/2', duty: '35 %' });
	});
	test('a timer without a steady period leads nobody', () => {
		expect(linkStep(demo, 'timer-b', 'timer-a', '1/3')).toEqual({ kind: 'no-leader' });
	});
});
