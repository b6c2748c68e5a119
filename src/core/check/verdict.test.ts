import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { AnyReader } from '../formats/index.js';
import { Rational } from '../exact/index.js';
import { measurePulses } from '../measure/index.js';
import { freshAim, type AimOf } from '../aims/index.js';
import { derivePlan, fernhollow, readPlan, type Plan } from '../plan/index.js';
import firstPlan from '../plan/fixtures/plan-1.json' with { type: 'json' };
import { judge, type Evidence, type Verdict } from './index.js';

/** The first demo, on a small Heron-32, as it was frozen. */
const plan = readPlan(firstPlan);
const changed = (change: Partial<AimOf<'pwm'>>): Plan => ({ ...plan, aims: [{ ...(plan.aims[0] as AimOf<'pwm'>), ...change }] });
const derived = (doc: Plan) => derivePlan(doc).aims[0];

/** Reads a recording and measures all of its first line. */
function evidenceOf(bytes: Uint8Array, instrument = Rational.zero): Evidence {
	const reader = new AnyReader();
	reader.feed(bytes);
	const { lines, start, end, unit, resolution } = reader.end();
	const measured = measurePulses(lines[0].trace, { start, end: end + 1 });
	return { measured, window: unit.mul(Rational.int(end + 1 - start)), step: { step: resolution }, instrument };
}

function verdictOn(name: string, doc: Plan = plan, instrument = Rational.zero): Verdict {
	return judge(derived(doc), derivePlan(doc).clocks, evidenceOf(readFileSync(`demo/recordings/${name}`), instrument));
}

/** A list of edges of a line that begins low, in microseconds. */
function edges(times: number[], doc: Plan): Verdict {
	const text = ['time (us),a', '-1,0', ...times.map((time, i) => `${time},${(i + 1) % 2}`)].join('\n') + '\n';
	return judge(derived(doc), derivePlan(doc).clocks, evidenceOf(new TextEncoder().encode(text)));
}

const pulsesOf = (period: number, high: number, count: number) =>
	Array.from({ length: count }, (_, i) => [i * period, i * period + high]).flat();
const held = ({ quantities }: Verdict) => quantities.map(({ of, asSet, asWished }) => [of, asSet.explained, asWished!.within]);

describe('judge', () => {
	test('the four demo recordings', () => {
		// Its simulator rounds half a clock period to a picosecond: 64 ppm fast, where the crystal may be 50 ppm off.
		expect(verdictOn('heater-right.vcd')).toMatchObject({ outcome: 'outside', asSet: 'outside', asWished: 'within' });
		expect(verdictOn('heater-right.vcd', plan, Rational.int(20)).outcome).toBe('within');
		expect(verdictOn('heater-half-rate.vcd').quantities.map(({ of, asWished }) => [of, asWished!.within])).toEqual([
			['frequency', false],
			['high', false],
			['duty', true]
		]);
		expect(verdictOn('heater-scope.csv').outcome).toBe('within');
		expect(verdictOn('heater-wrong-duty.csv').quantities.map(({ of, asWished }) => [of, asWished!.within])).toEqual([
			['frequency', true],
			['high', false],
			['duty', false]
		]);
	});

	test('a list of edges has no step in the gaps between them', () => {
		const hundred = changed({ rate: '100 Hz', duty: '50 %', tolerance: '0.1 %', bits: '8 bits' });
		// 120 Hz and 50 %: every edge 8333 us or 4167 us from the next.
		expect(held(edges(pulsesOf(8333, 4167, 30), hundred))[0]).toEqual(['frequency', false, false]);
		// 2 % slow, at 40 % where 50 % is planned.
		const slow = edges(pulsesOf(10_200, 4080, 30), hundred);
		expect([slow.outcome, held(slow)]).toEqual([
			'outside',
			[
				['frequency', false, false],
				['high', false, false],
				['duty', false, false]
			]
		]);
	});

	test('the mean of many periods is known better than one', () => {
		const tight = changed({ rate: '100 Hz', duty: '50 %', tolerance: '0', bits: '0', locks: {} });
		const part = (count: number) => edges(pulsesOf(10_000, 5000, count), tight).quantities[0].asSet.budget.recording.toNumber();
		// 1 us in 10 ms is 100 ppm of 100 Hz, over 1000 periods a thousandth of it.
		expect([part(2), part(1001)].map((value) => Number(value.toPrecision(3)))).toEqual([0.01, 0.00001]);
	});

	test('the two questions: what the registers say, and what was wished', () => {
		// 72 MHz does not divide into 7 kHz: the registers are 27.8 ppm off, which a pin that follows them is, too.
		const coarse = changed({ rate: '7.007 kHz', duty: '50 %', tolerance: '1 ppm', bits: '0' });
		const { pulse } = derived(coarse);
		const [period, high] = [pulse!.period, pulse!.period.mul(pulse!.duty)].map((time) => time.toNumber() * 1e6);
		const text = ['time (us),a', '-1.0000000,0']
			.concat(Array.from({ length: 4000 }, (_, i) => `${(Math.floor(i / 2) * period + (i % 2) * high).toFixed(7)},${(i + 1) % 2}`))
			.join('\n');
		const verdict = judge(derived(coarse), derivePlan(coarse).clocks, evidenceOf(new TextEncoder().encode(text + '\n')));
		const [rate] = verdict.quantities;
		expect([verdict.asSet, rate.asSet.explained]).toEqual(['within', true]);
		// The rounding is a part of the wish's budget, on its own side.
		expect(rate.asWished!.budget.rounding.map((end) => end.sign)).toEqual(pulse!.hz.compare(Rational.int(7007)) < 0 ? [-1, 0] : [0, 1]);
	});

	test('a line that never moves though it is planned to is outside, where it was watched for long enough', () => {
		const still = (until: number) => edges([until], changed({ rate: '100 Hz' }));
		const flat = (us: number, doc: Plan) => {
			const text = `time (us),a\n0,0\n${us},0\n`;
			return judge(derived(doc), derivePlan(doc).clocks, evidenceOf(new TextEncoder().encode(text)));
		};
		expect(flat(50_000, changed({ rate: '100 Hz' }))).toMatchObject({ outcome: 'outside', reason: 'never-moves' });
		expect(flat(15_000, changed({ rate: '100 Hz' }))).toMatchObject({ outcome: 'undecided' });
		expect(still(5000)).toMatchObject({ outcome: 'undecided', reason: 'no-whole-period' });
		// 0 % is planned to stand low.
		expect(flat(50_000, changed({ duty: '0 %' }))).toMatchObject({ outcome: 'within' });
		expect(flat(50_000, changed({ duty: '100 %' }))).toMatchObject({ outcome: 'outside', reason: 'other-level' });
		expect(edges(pulsesOf(10_000, 4000, 5), changed({ duty: '0 %' }))).toMatchObject({ outcome: 'outside', reason: 'moves' });
	});

	test('every part of the budget stands by itself', () => {
		const [rate, , duty] = verdictOn('heater-scope.csv', plan, Rational.int(25)).quantities;
		const { budget } = rate.asWished!;
		// 1000 ppm, 50 ppm to either side and 25 ppm of 1200 Hz.
		expect([budget.aim, ...budget.source, budget.instrument].map(String)).toEqual(['6/5', '-3/50', '3/50', '3/100']);
		const both = budget.aim.add(budget.recording).add(budget.instrument);
		expect(budget.sum[1].equals(both.add(budget.source[1]).add(budget.rounding[1]))).toBe(true);
		expect(String(duty.asWished!.budget.aim)).toBe('1/2048');
		expect(duty.asWished!.budget.instrument.sign).toBe(0);
	});

	test('what is within but not shown says how long it would take', () => {
		// Two periods at a step of 1 us: 100 ppm of a period, more than the 50 ppm that are allowed beside the clock.
		const close = changed({ rate: '100 Hz', duty: '50 %', tolerance: '50 ppm', bits: '4 bits' });
		const [rate] = edges(pulsesOf(10_000, 5000, 2), close).quantities;
		expect([rate.asWished!.within, rate.asWished!.shown]).toEqual([true, false]);
		const long = rate.asWished!.needs!.toNumber();
		const [again] = edges(pulsesOf(10_000, 5000, 1 + Math.ceil(long / 0.01)), close).quantities;
		expect([long < 1, again.asWished!.shown]).toEqual([true, true]);
	});

	test('an active-low aim is held against the other share', () => {
		const low = verdictOn('heater-right.vcd', changed({ polarity: 'low' }));
		const duty = low.quantities.find(({ of }) => of === 'duty')!;
		expect([duty.asSet.explained, String(duty.asSet.against)]).toEqual([false, '13/20']);
	});

	test('without settings or without a period there is no verdict', () => {
		expect(verdictOn('heater-right.vcd', changed({ rate: 'fast' }))).toMatchObject({ outcome: 'undecided', reason: 'no-plan' });
		expect(edges([0, 300], plan)).toMatchObject({ outcome: 'undecided', reason: 'no-whole-period' });
	});

	test('both outputs of a pair that are swallowed stand still', () => {
		const pair = freshAim('pair', 'p', 'p', 'timer-a', { rate: '1 kHz', duty: '0 %', dead: '1 us' });
		const doc = { ...fernhollow(), aims: [pair] };
		const text = new TextEncoder().encode('time (us),a\n0,0\n50000,0\n');
		const by = (role: string) => judge(derived(doc), derivePlan(doc).clocks, evidenceOf(text), role).outcome;
		expect([by('main'), by('complementary')]).toEqual(['within', 'outside']);
	});
});
