import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Dice, randomPlan } from '../../../tests/unit/randomPlans.js';
import { freshAim, relationsOf, turnedAt, turnedOf, type AimOf, type Stimulus } from '../aims/index.js';
import { Rational } from '../exact/index.js';
import { applyStep, derivePlan, fernhollow, setStep, type Instrument, type Plan, type Reading, type Sweep } from '../plan/index.js';
import { freshStimulus, planSystem } from '../predict/index.js';
import { judgeReading, judgeSweep, layLog, readable, readLaying, readPairs, readValueAs, sweepRelations, sweepSteps } from './index.js';

const demo = fernhollow();
const derivation = derivePlan(demo);
const heater = derivation.aims.find(({ aim }) => aim.id === 'heater-a')!;
const counter: Instrument = { id: 'i', name: 'bench counter', time: '10 ppm', amplitude: '', lowest: '10 Hz', highest: '100 kHz' };
const reading = (more: Partial<Reading>): Reading => ({
	id: 'r',
	aim: 'heater-a',
	of: 'frequency',
	line: 'pin',
	value: '1.2 kHz',
	error: '',
	by: '',
	...more
});
const held = (more: Partial<Reading>, instrument?: Instrument) => {
	const judged = judgeReading(heater, derivation.clocks, reading(more), instrument);
	if (typeof judged === 'string') throw new Error(judged);
	return judged;
};
const sweep = (more: Partial<Sweep>): Sweep => ({
	id: 's',
	name: 's',
	aim: 'heater-a',
	of: 'compare>high',
	setUnit: '',
	readUnit: 'us',
	error: '',
	setBy: '',
	readBy: '',
	rows: [],
	...more
});

describe('a typed value', () => {
	test.each([
		['Hz', '1.20 kHz', '', '', '1200/1', '5/1'],
		['Hz', '833 us', '', '', '1000000/833', '1000000/1387778'],
		['Hz', '1200', '', '', '1200/1', '1/2'],
		['s', '291.7', 'us', '', '2917/10000000', '1/20000000'],
		['s', '3 ms', '', '1 %', '3/1000', '3/100000'],
		['%', '35.0', '%', '', '7/20', '1/2000'],
		['%', '35 %', '', '0.2 %', '7/20', '1/500'],
		['deg', '120.5 deg', '', '', '241/2', '1/20'],
		['Hz', '1.2 kHz', '', '0.01', '1200/1', '10/1'],
		['%', '35 %', '', '0.2', '7/20', '1/500'],
		['s', '291.7', 'us', '0.1', '2917/10000000', '1/10000000'],
		['s', '291.7', 'us', '20 ns', '2917/10000000', '1/50000000'],
		['Hz', '1 ms', '', '2 Hz', '1000/1', '2/1'],
		['Hz', '1.00 kHz', '', '1 us', '1000/1', '1000/999'],
		['s', '1 kHz', '', '1 us', '1/1000', '1/1000000'],
		['Hz', '1 kHz', '', '2 ms', '1000/1', '1000/1'],
		['', '0x1F', '', '', '31/1', '0/1'],
		['', '0x1F', 'ticks', '1', '31/1', '1/1'],
		['', '1200 ticks', '', '0', '1200/1', '0/1']
	] as const)('for %s: "%s" (column %s, error "%s")', (unit, text, column, error, value, off) => {
		const read = readValueAs(unit, text, column, error);
		expect(typeof read === 'string' ? read : [read.value.toString(), read.error.toString()]).toEqual([
			value,
			unit === 'Hz' && text === '833 us' ? expect.any(String) : off
		]);
	});
	test('a period’s error is the rate’s towards its own end', () => {
		const read = readValueAs('Hz', '833 us', '', '1 us');
		if (typeof read === 'string') throw new Error(read);
		expect(read.value.add(read.error).inverse().toString()).toBe('13/15625');
	});
	test.each([
		['Hz', 'twelve', 'no-number'],
		['Hz', '12 lightyears', 'unknown-unit'],
		['s', '12 %', 'wrong-dimension'],
		['Hz', '0 s', 'not-positive'],
		['%', '35 us', 'wrong-dimension'],
		['Hz', '21,500', 'ambiguous']
	] as const)('for %s: "%s" is %s', (unit, text, why) => expect(readValueAs(unit, text, '', '')).toBe(why));
});

describe('a typed reading', () => {
	test('is held against the plan and against the wish, part by part', () => {
		// The crystal is a part of up to 0.06 Hz, half the last digit 0.05.
		const right = held({ value: '1200.2 Hz' });
		expect([right.asSet.explained, right.asWished!.within, right.beyond]).toEqual([false, true, false]);
		expect(held({ value: '1200.2 Hz', error: '0.2' }).asSet.explained).toBe(true);
		expect(held({ value: '1200.2 Hz' }, { ...counter, time: '100 ppm' }).asSet.explained).toBe(true);
		const wrong = held({ value: '1190 Hz' });
		expect([wrong.asSet.explained, wrong.asWished!.within]).toEqual([false, false]);
	});
	test('may be a period, a width or a duty, and says what it wants', () => {
		expect(held({ value: '833.33 us' }).asSet.explained).toBe(true);
		expect(held({ of: 'high', value: '291.67 us' }).asSet.explained).toBe(true);
		expect(held({ of: 'duty', value: '35.0 %' }).asSet.explained).toBe(true);
		const trouble = (more: Partial<Reading>) => judgeReading(heater, derivation.clocks, reading(more), undefined);
		expect([trouble({ value: '' }), trouble({ of: 'gap' }), trouble({ of: 'duty', value: '3 ms' })]).toEqual([
			'no-value',
			'nothing-planned',
			'wrong-dimension'
		]);
		expect(judgeReading(undefined, derivation.clocks, reading({}), undefined)).toBe('nothing-planned');
	});
	test('beyond what its instrument can be believed for says so', () => {
		expect(held({}, { ...counter, lowest: '2 kHz' }).beyond).toBe(true);
		expect(held({ of: 'duty', value: '35 %' }, { ...counter, highest: '1 kHz' }).beyond).toBe(true);
		expect(held({}, counter).beyond).toBe(false);
	});
	test('fits every quantity that a random plan has planned', () => {
		fc.assert(
			fc.property(fc.array(fc.nat(), { minLength: 120, maxLength: 120 }), (dice) => {
				const plan = derivePlan(randomPlan(new Dice(dice), undefined));
				for (const one of plan.aims)
					for (const { of, line, planned, unit } of readable(one)) {
						const shown =
							unit === 'deg'
								? `${planned.toString()} deg`
								: unit === '%'
									? planned.mul(Rational.int(100)).toString() + ' %'
									: planned.toString();
						if (shown.length > 70 || (unit === 'Hz' && planned.sign <= 0)) continue;
						const value = unit === 's' ? `${shown} s` : shown;
						const judged = judgeReading(one, plan.clocks, reading({ aim: one.aim.id, of, line, value, error: '0' }), undefined);
						if (typeof judged === 'string') throw new Error(`${judged} ${value}`);
						expect(judged.asSet.explained).toBe(true);
					}
			}),
			{ numRuns: 30 }
		);
	});
});

describe('a sweep', () => {
	const typedRows = (rows: [string, string][], more: Partial<Sweep> = {}) => judgeSweep(derivation, sweep({ rows, ...more }), [counter])!;
	test('of compares against widths says of each row whether plan and rounding explain it, and lays a line through all', () => {
		// 72 MHz: 21000 ticks are 291.666 us.
		const judged = typedRows([
			['21000', '291.67'],
			['30000', '416.67'],
			['6000', '84.0'],
			['x', '1'],
			['70000', '1']
		]);
		expect(judged.rows.map(({ index, explained }) => [index, explained])).toEqual([
			[0, true],
			[1, true],
			[2, false],
			[4, undefined]
		]);
		expect(judged.troubles).toEqual([{ index: 3, side: 'set', trouble: 'no-number' }]);
		expect(judged.fit!.slope).toBeCloseTo(1, 2);
		expect(typedRows([['21000', '291.67']]).fit).toBeUndefined();
		expect(judgeSweep(derivation, sweep({ of: 'rate>ticks' }), [])).toBeUndefined();
		expect(judgeSweep(derivation, sweep({ aim: 'nobody' }), [])).toBeUndefined();
	});
	test('of a time base that is off has that slope', () => {
		const rows = [1000, 12_000, 25_000, 59_000].map((compare): [string, string] => [String(compare), ((compare / 72) * 1.001).toFixed(4)]);
		const { fit, rows: judged } = typedRows(rows);
		expect(fit!.slope).toBeCloseTo(1.001, 6);
		expect(fit!.offset).toBeCloseTo(0, 9);
		expect(judged.every(({ explained }) => explained === false)).toBe(true);
	});
	test('of a generator’s rate allows what the generator states, and doubts what lies beyond the instrument', () => {
		const wind = derivation.aims.find(({ aim }) => aim.kind === 'capture')!.aim;
		const of = sweepRelations(derivation, wind.id).map(({ id }) => id);
		expect(of).toContain('rate>rate');
		const judged = judgeSweep(
			derivation,
			sweep({
				aim: wind.id,
				of: 'rate>rate',
				setUnit: 'Hz',
				readUnit: 'Hz',
				setBy: 'i',
				rows: [
					['100', '100.0'],
					['5', '5.00'],
					['200', '210']
				]
			}),
			[counter]
		)!;
		expect(judged.rows.map(({ explained, beyond }) => [explained, beyond])).toEqual([
			[true, false],
			[true, true],
			[false, false]
		]);
	});
	test('is drawn as the plan rounds it', () => {
		const judged = typedRows([
			['100', '1'],
			['104', '1']
		]);
		expect(sweepSteps(judged, 400).map(({ set }) => set)).toEqual([100, 101, 102, 103, 104]);
		// Over decades each is drawn as wide as the others, and every row's setting is among the points.
		const wide = typedRows(
			[
				['3', '1'],
				['50000', '1']
			],
			{ of: 'compare>duty', readUnit: '%' }
		);
		const sets = sweepSteps(wide, 100).map(({ set }) => set);
		expect([sets[0], sets.at(-1), sets.filter((set) => set < 400).length > 30]).toEqual([3, 50_000, true]);
		const duty = judgeSweep(derivation, sweep({ of: 'duty>duty' }), [])!;
		const steps = sweepSteps(duty, 400);
		expect([steps.length, steps.every(({ low, high, set }) => low === high && Math.abs(low - set) < 1e-4)]).toEqual([400, true]);
	});
	test('of what a timer reads holds every reading of the simulator', () => {
		const aim = (more: Partial<AimOf<'capture'>>) =>
			freshAim('capture', 'c', 'c', 'timer-b', { lowest: '2 Hz', highest: '1 kHz', ...more });
		for (const [hz, more] of [
			[17.3, {}],
			[333.3, { service: '0' }],
			[997, { method: 'gated' as const, gate: '500 ms' }]
		] as const) {
			const stimulus = { ...freshStimulus(aim(more), 'square'), rate: `${hz} Hz` } as Stimulus;
			const plan: Plan = { ...demo, aims: [aim(more)], stimuli: { c: stimulus } };
			const derived = derivePlan(plan);
			const [{ readings, tickRate }] = planSystem(derived).replays;
			const at = sweepRelations(derived, 'c')
				.find(({ id }) => id === 'rate>rate')!
				.at(Rational.parse(String(hz)))!;
			expect(readings.counts.length).toBeGreaterThan(2);
			readings.counts.forEach((count, i) => {
				const over = readings.over?.[i] ?? 1;
				const read = more && 'gate' in more ? count / 0.5 : (over * tickRate.toNumber()) / count;
				expect(read).toBeGreaterThanOrEqual(at[0].toNumber() * (1 - 1e-12));
				expect(read).toBeLessThanOrEqual(at[1].toNumber() * (1 + 1e-12));
			});
		}
		const width = freshAim('width', 'c', 'c', 'timer-b', {});
		const [read] = sweepRelations(derivePlan({ ...demo, aims: [width] }), 'c');
		const [low, high] = read.at(Rational.parse('1.23456e-3'))!;
		expect([low.compare(Rational.parse('1.23456e-3')) <= 0, high.compare(low) > 0]).toEqual([true, true]);
	});
	test('of a register is what that register gives, whatever the plan', () => {
		fc.assert(
			fc.property(fc.array(fc.nat(), { minLength: 120, maxLength: 120 }), fc.nat(1000), (dice, k) => {
				const plan = derivePlan(randomPlan(new Dice(dice), undefined));
				for (const one of plan.aims) {
					const relations = relationsOf(one, (id) => plan.aims.find(({ aim }) => aim.id === id));
					expect(new Set(relations.map(({ id }) => id)).size).toBe(relations.length);
					for (const turned of turnedOf(one)) {
						const by = relations.find(({ id }) => id === `${turned.register}>${turned.of}`)!;
						const wish = relations.find(({ id }) => id === `${turned.of}>${turned.of}`)!;
						const inside = turned.low.add(turned.high.sub(turned.low).mul(Rational.ratio(k, 1000)));
						const { value, gives } = turnedAt(turned, inside)!;
						// What a wish comes to is what its register gives, and, wished for, gives itself.
						expect([wish.at(inside)!, by.at(Rational.int(value))!, wish.at(gives)!].map(([low]) => low.toString())).toEqual(
							Array.from({ length: 3 }, () => gives.toString())
						);
						const set = one.strip.find(({ name }) => name === turned.register)?.value;
						if (set !== undefined && turned.register === 'compare') expect(by.at(Rational.int(set))).toBeDefined();
					}
				}
			}),
			{ numRuns: 30 }
		);
	});
});

describe('a log of pairs', () => {
	test.each([
		[
			'1200, 1199.8\n1300, 1299.7\n',
			[
				['1200', '1199.8'],
				['1300', '1299.7']
			]
		],
		[
			'set=1200 Hz  meas 1199.8 Hz\r\nset=1.3 kHz  meas 1299.7 Hz',
			[
				['1200 Hz', '1199.8 Hz'],
				['1.3 kHz', '1299.7 Hz']
			]
		],
		[
			'[12:00:01.250] 10 -> 0.351\n[12:00:02.250] 20 -> 0.402',
			[
				['10', '0.351'],
				['20', '0.402']
			]
		],
		[
			'2026-11-27 08:00:01 > count 7 duty 12.5 %\n2026-11-27 08:00:02 > count 8 duty 14.0 %',
			[
				['7', '12.5 %'],
				['8', '14.0 %']
			]
		],
		[
			'0,5\t1,25\n0,6\t1,5\n',
			[
				['0.5', '1.25'],
				['0.6', '1.5']
			]
		],
		[
			'\u001b[32mok\u001b[0m 1 2\u0000\n> 3 4\n',
			[
				['1', '2'],
				['3', '4']
			]
		],
		[
			'0x10 17\n0x11 18',
			[
				['0x10', '17'],
				['0x11', '18']
			]
		],
		[
			'1 | 2\n3 | \u22124',
			[
				['1', '2'],
				['3', '-4']
			]
		]
	] as [string, string[][]][])('%j', (text, rows) => expect(readPairs(text).rows).toEqual(rows));
	test('takes the last two of many, or those that are told, and tells what it passed over', () => {
		const text = '# n  set (kHz)  read (kHz)\n0  1.0  0.99\nboot ok\n1  2.0  1.98\n2  3.0\n';
		expect(readPairs(text)).toMatchObject({
			rows: [
				['1.0', '0.99'],
				['2.0', '1.98']
			],
			columns: 3,
			taken: [1, 2],
			headings: ['n', 'set (kHz)', 'read (kHz)'],
			units: ['kHz', 'kHz'],
			passed: [1, 3, 5]
		});
		expect(readPairs(text, [0, 2]).rows[1]).toEqual(['1', '1.98']);
		expect(readPairs(text, [0, 9]).taken).toEqual([1, 2]);
	});
	test('of no pairs has none; whatever is pasted is read in time', () => {
		expect(readPairs('').rows).toEqual([]);
		expect(readPairs('nothing here\nat all').passed).toEqual([1, 2]);
		fc.assert(
			fc.property(fc.string({ maxLength: 400 }), (text) => {
				const { rows, columns } = readPairs(text);
				expect(rows.every((row) => row.length === 2)).toBe(true);
				expect(columns === 0).toBe(rows.length === 0);
			})
		);
		expect(readPairs(`${'1 2 '.repeat(20_000)}\n`.repeat(3)).columns).toBe(40_000);
	});
});

test('a step changes one row of a sweep', () => {
	const plan: Plan = { ...demo, sweeps: [sweep({ rows: [['1', '2']] })] };
	const next = applyStep(plan, setStep(plan, ['sweeps', 0, 'rows', 0, 1], '3', 'type'));
	expect(next.sweeps[0].rows).toEqual([['1', '3']]);
});

describe('a recording laid by hand', () => {
	test.each([
		['1.25 ms', '', '1/800', '1/1'],
		['-3 us', '-64 ppm', '-3/1000000', '124992/125000'],
		['0', '0.01 %', '0/1', '10001/10000']
	])('at %s, %s', (offset, ratio, at, of) => {
		const read = readLaying({ offset, ratio });
		expect(read.ok && [read.value.offset.equals(Rational.parse(at)), read.value.ratio.equals(Rational.parse(of))]).toEqual([true, true]);
	});
	test.each([
		['', '', 'empty'],
		['soon', '', 'no-number'],
		['5', '', 'bare-number'],
		['5 kHz', '', 'wrong-dimension'],
		['5 ms', '64', 'bare-number'],
		['5 ms', '64 us', 'wrong-dimension'],
		['5 ms', '90 %', 'too-large']
	])('is refused at %s, %s', (offset, ratio, reason) => {
		expect(readLaying({ offset, ratio })).toMatchObject({ ok: false, problem: { reason } });
	});
});

describe('a log beside what would be read', () => {
	// Spans of a 1 MHz counter: 1000 counts are 1 ms.
	const counts = [1000, 1200, 900, 1500, 800, 1100];
	const read = { counts, values: counts.map((count) => count * 1e-6), grain: counts.map(() => 1e-6), unit: 's' as const, clock: 0 };
	const rows = (text: string) => layLog(text, read)!.rows.map(({ reading, said, agrees }) => [reading, said, agrees]);

	test('may begin anywhere, lose lines and say more', () => {
		const laid = layLog('start\nt=1200\nt=900\nt=800\nt=77\nt=1100', read)!;
		expect([laid.as, laid.agreed, laid.differing, laid.lost, laid.extra, laid.passed]).toEqual(['counts', 4, 0, 1, 1, [1]]);
		expect(laid.rows.map(({ reading, line }) => [reading, line])).toEqual([
			[1, 2],
			[2, 3],
			[3, undefined],
			[4, 4],
			[undefined, 5],
			[5, 6]
		]);
	});
	test('a count more or less agrees, two do not', () => {
		expect(rows('1001\n1198\n900')).toEqual([
			[0, '1001', true],
			[1, '1198', false],
			[2, '900', true]
		]);
	});
	test('is read in the readings’ own unit, with its last digit in half', () => {
		expect(rows('1.00 ms\n1.20 ms\n0.91 ms')).toEqual([
			[0, '1.00 ms', true],
			[1, '1.20 ms', true],
			[2, '0.91 ms', false]
		]);
		expect(layLog('0.0010\n0.0012\n0.0009', read)).toMatchObject({ as: 'counts', agreed: 3 });
	});
	test('says nothing where no number stands', () => {
		expect(layLog('ready\n\n', read)).toBeUndefined();
		const many = layLog(Array.from({ length: 2500 }, (_, i) => `${i}`).join('\n'), read)!;
		expect(many.left).toEqual({ values: 500, readings: 0 });
		expect(many.rows.filter(({ said }) => said !== undefined)).toHaveLength(2000);
	});
});
