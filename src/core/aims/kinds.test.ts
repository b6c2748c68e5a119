import { describe, expect, test } from 'vitest';
import { checkPlan } from '../check/index.js';
import { Rational } from '../exact/index.js';
import { shippedPart } from '../part/index.js';
import { freshAim, type Aim, type AimDerivation, type AimOf } from '../aims/index.js';
import { derivePlan, fernhollow, fernhollowVane, newPlan, type Plan } from '../plan/index.js';

/** Heron-32 with 72 MHz at every timer, as in the demo. */
const demo = fernhollow();
const planOf = (...aims: Aim[]): Plan => ({ ...demo, aims });
const last = (plan: Plan) => derivePlan(plan).aims.at(-1)!;
const strip = ({ strip: links }: AimDerivation) => links.map(({ name, value, list }) => `${name} ${list ? list.join('x') : value}`);
const figure = ({ figures }: AimDerivation, name: string) => figures.find((one) => one.name === name)?.value.toString();
const codes = (plan: Plan) =>
	checkPlan(derivePlan(plan))
		.filter(({ aim }) => aim !== undefined)
		.map((finding) => (finding.code === 'field' ? `field ${finding.field}` : finding.code));

describe('pulses divided in software', () => {
	const board = fernhollowVane();
	const flaps = (change: Partial<AimOf<'divided'>>): Plan => ({ ...board, aims: [{ ...(board.aims[0] as AimOf<'divided'>), ...change }] });
	test('three flaps from one tick of 20 us: 1000 ticks a frame are 4 x 250', () => {
		const made = last(flaps({}));
		// 8 MHz x 20 us = 160; 20 ms / 20 us = 1000, which needs two factors of up to 255.
		expect(strip(made)).toEqual(['prescale 1', 'advance 160', 'factors 4x250']);
		// 60 core cycles of 16 MHz, 50000 times a second.
		expect(figure(made, 'load')).toBe('3/16');
		expect(made.table!.rows.map(({ values }) => String(values[2]))).toEqual(['75/1', '60/1', '90/1']);
	});
	test('a width between two ticks is rounded, half up, and its error told', () => {
		const row = last(flaps({ outputs: [{ id: 'a', name: 'a', pin: '', width: '1.51 ms' }] })).table!.rows[0];
		// 75.5 ticks.
		expect(row.values.slice(2).map(String)).toEqual(['76/1', '19/12500', '1/100000']);
	});
	test.each<[string, Partial<AimOf<'divided'>>, string[]]>([
		['a frame that one factor holds', { frame: '4 ms' }, []],
		['one that no factors meet', { frame: '20.011 ms', frameTolerance: '1 ppm' }, ['frame-outside', 'source-loose']],
		['one that wants too many', { factor: '2' }, ['factors-too-many']],
		['a width beyond the frame', { outputs: [{ id: 'a', name: 'a', pin: '', width: '30 ms' }] }, ['width-over-frame']],
		['a width below half a tick', { outputs: [{ id: 'a', name: 'a', pin: '', width: '5 us' }] }, ['width-below-tick']],
		['no width at all', { outputs: [{ id: 'a', name: 'a', pin: '', width: '0' }] }, []],
		['a width that is none', { outputs: [{ id: 'a', name: 'a', pin: '', width: 'wide' }] }, ['field outputs.0.width']],
		['a service longer than the tick', { service: '400' }, ['service-over-period']]
	])('%s', (_, change, want) => expect(codes(flaps(change))).toEqual(want));
});

describe('a follower', () => {
	const leader = { ...freshAim('pwm', 'l', 'leader', 'timer-d', { channel: 'ch1' }), rate: '1.2 kHz', duty: '35 %' };
	const follow = (change: Partial<AimOf<'follower'>>, ...others: Aim[]) =>
		planOf(
			leader,
			...others,
			freshAim('follower', 'f', 'follower', 'timer-h', { leader: 'l', lag: '1/3', lagTolerance: '0.1 deg', ...change })
		);
	test('a third of 60000 ticks less one cycle of latency is compare 19999', () => {
		const made = last(follow({}));
		expect(strip(made)).toEqual(['lead 19999', 'prescale 1', 'reload 59999', 'compare 30000']);
		expect([figure(made, 'lag-degrees'), figure(made, 'lag-off')]).toEqual(['120/1', '0/1']);
		expect(codes(follow({}))).toEqual([]);
	});
	test('degrees and times say the same', () => {
		for (const lag of ['120 deg', '1/3', '1/3 turns']) expect(strip(last(follow({ lag })))[0]).toBe('lead 19999');
		// 100 us x 72 MHz = 7200, one of it latency.
		expect(strip(last(follow({ lag: '100 us' })))[0]).toBe('lead 7199');
	});
	test('33 % is not a third, and is told so', () => {
		expect(codes(follow({ lag: '33 %' }))).toEqual(['part-as-percent']);
		expect(figure(last(follow({ lag: '33 %' })), 'lag-degrees')).toBe('594/5');
		expect(codes(follow({ lag: '25 %' }))).toEqual([]);
	});
	test('without a lag it starts with its leader, latency behind', () => {
		const made = last(follow({ lag: '0', lagTolerance: '1 deg' }));
		expect(strip(made)[0]).toBe('prescale 1');
		expect([figure(made, 'lag'), figure(made, 'latency')]).toEqual(['1/72000000', '1/72000000']);
		expect(codes(follow({ lag: '0', lagTolerance: '0' }))).toEqual(['lag-below-latency', 'lag-outside']);
	});
	test('two of them take different compares of the leader, and the leader’s own stays its own', () => {
		const second = freshAim('follower', 's', 'second', 'timer-c', { leader: 'l', lag: '2/3', lagTolerance: '0.1 deg' });
		const { aims } = derivePlan(follow({}, second));
		expect(aims.slice(1).map((one) => strip(one)[0])).toEqual(['lead 39999', 'lead 19999']);
		// Channel 1 is the leader's pin; two, three and four are left.
		const more = ['timer-a', 'timer-b', 'timer-e'].map((timer, i) =>
			freshAim('follower', `m${i}`, `more ${i}`, timer, { leader: 'l', lag: '1/4', lagTolerance: '1 deg' })
		);
		expect(codes(follow({}, second, ...more))).toEqual(['leader-full', 'leader-full']);
	});
	test('counting the leader’s periods makes a wider counter', () => {
		const made = last(follow({ action: 'clock', rate: '1 Hz' }));
		// 1200 leader periods a second.
		expect(strip(made)).toEqual(['prescale 1', 'reload 1199', 'compare 600']);
		expect(figure(made, 'cascade-width')).toBe('32/1');
	});
	test('gated, it counts while its leader is high', () => {
		const made = last(follow({ action: 'gate', rate: '12 kHz' }));
		// 35 % of 1/1200 s hold 3.5 periods of 12 kHz.
		expect([figure(made, 'gate-on'), figure(made, 'per-gate')]).toEqual(['7/24000', '7/2']);
		expect(codes(follow({ action: 'gate', rate: '2 kHz' }))).toEqual(['gate-short']);
	});
	test.each<[string, Partial<AimOf<'follower'>>, string[]]>([
		['a leader that is gone', { leader: 'gone' }, ['leader-missing']],
		['itself', { leader: 'f' }, ['leader-ring']],
		['a leader on its own timer', { timer: 'timer-d', channel: 'ch2' }, ['leader-ring']],
		['a timer that the leader does not reach', { timer: 'timer-f' }, ['no-route']],
		['an input that it does not reach', { input: 'in2' }, ['no-route']],
		['an event that the leader does not send', { source: 'match:ch9' }, ['no-route']],
		['a lag of a period', { lag: '360 deg' }, ['lag-beyond']],
		['a lag with a unit of its own', { lag: '3 bits' }, ['field lag']]
	])('%s', (_, change, want) => expect(codes(follow(change))).toEqual(want));
	test('a route that is not there comes with the nearest that is', () => {
		const found = checkPlan(derivePlan(follow({ timer: 'timer-f' }))).find(({ code }) => code === 'no-route');
		expect(found).toMatchObject({ event: 'match:ch2', from: 'Timer D', to: 'Timer F', nearest: { input: 'in4', timer: 'timer-a' } });
	});
	test('a follower of a follower, in any order of the plan', () => {
		const chain = freshAim('follower', 'c', 'chain', 'timer-e', { leader: 'x', lag: '1/4', lagTolerance: '0.1 deg' });
		const middle = freshAim('follower', 'x', 'middle', 'timer-a', { leader: 'l', lag: '1/4', lagTolerance: '0.1 deg' });
		expect(codes(planOf(chain, middle, leader))).toEqual([]);
		expect(codes(planOf({ ...chain, leader: 'x' }, { ...middle, leader: 'c' }))).toEqual(['leader-ring', 'leader-ring']);
	});
	test('a held compare of the leader says what lag it gives', () => {
		const held = follow({ locks: { lead: '20000' }, lagTolerance: '0' });
		expect(figure(last(held), 'lag')).toBe(Rational.ratio(20_001, 72_000_000).toString());
		expect(codes(held)).toEqual(['lag-outside']);
	});
});

describe('a shape on a carrier', () => {
	const coil = (change: Partial<AimOf<'table'>>) => planOf(freshAim('table', 't', 'coil', 'timer-a', { base: '125 Hz', ...change }));
	const compares = (plan: Plan, column = 2) => last(plan).table!.rows.map(({ values }) => Number((values[column] as Rational).num));
	test('a sine of 125 Hz on 20 kHz has 160 rows about the middle', () => {
		const rows = compares(coil({}));
		// 3600 ticks: 50 % is 1800, 45 % about it reaches 3420 and 180.
		expect([rows.length, rows[0], rows[40], rows[80], rows[120]]).toEqual([160, 1800, 3420, 1800, 180]);
		expect(codes(coil({}))).toEqual([]);
	});
	test('a triangle is straight, a trapezoid flat at its ends', () => {
		expect(compares(coil({ shape: 'triangle' })).slice(0, 3)).toEqual([1800, 1841, 1881]);
		const flat = compares(coil({ shape: 'trapezoid' }));
		// From 60 to 120 degrees, rows 27 to 53 of 160.
		expect(new Set(flat.slice(27, 54))).toEqual(new Set([3420]));
	});
	test('the third harmonic reaches as far as the sine at 60 degrees, and is lower at 90', () => {
		const rows = compares(coil({ shape: 'third-harmonic', base: '100 Hz', carrier: '20 kHz', amplitude: '50 %' }));
		expect(Math.max(...rows)).toBeGreaterThan(3590);
		// 2/sqrt(3) x (1 - 1/6) = 0.9623 of 1800.
		expect(rows[50]).toBe(1800 + Math.round(0.962_250_4 * 1800));
	});
	test('half waves on two outputs take turns', () => {
		const plan = coil({ wave: 'half', second: 'ch2', offset: '0 %', amplitude: '100 %', base: '100 Hz' });
		const [first, second] = [compares(plan, 2), compares(plan, 3)];
		expect([first[50], second[50], first[150], second[150]]).toEqual([3600, 0, 0, 3600]);
	});
	test('half waves on one output are played twice a period', () => {
		const plan = coil({ wave: 'half', offset: '0 %', amplitude: '100 %', base: '100 Hz' });
		expect(compares(plan).length).toBe(100);
		expect(figure(last(plan), 'base')).toBe('100/1');
	});
	test('an own shape is stretched on straight lines, or taken row by row with its own periods', () => {
		const stretched = coil({ shape: 'own', own: '-1\n1', offset: '50 %', amplitude: '50 %', base: '5 kHz' });
		// Four rows of 20 kHz: -1, 0, 1, 0.
		expect(compares(stretched)).toEqual([0, 1800, 3600, 1800]);
		const timed = coil({
			shape: 'own',
			own: 'value, period\n0, 50 us\n100 %, 25 us\n',
			offset: '0 %',
			amplitude: '50 %',
			base: '13333.3 Hz'
		});
		expect(last(timed).table!.rows.map(({ values }) => values.slice(2, 4).map(String))).toEqual([
			['3599/1', '0/1'],
			['1799/1', '900/1']
		]);
	});
	test('which period a row acts on: one late without the fill before the start', () => {
		const acts = (change: Partial<AimOf<'table'>>) =>
			last(coil(change))
				.table!.rows.slice(0, 3)
				.map(({ values }) => (values.at(-1) instanceof Rational ? String((values.at(-1) as Rational).num) : values.at(-1)));
		expect(acts({})).toEqual(['0', '1', '2']);
		expect(acts({ prefill: 'no' })).toEqual(['0, 1', '2', '3']);
		expect(acts({ writes: 'immediate' })).toEqual([
			'0',
			{ code: 'under-way', period: Rational.one },
			{ code: 'under-way', period: Rational.int(2) }
		]);
		expect(acts({ writes: 'immediate', lag: '0' })).toEqual(['0', '1', '2']);
	});
	test.each<[string, Partial<AimOf<'table'>>, string[]]>([
		['a carrier that is no multiple', { base: '130 Hz', baseTolerance: '100 ppm' }, ['base-outside']],
		['too few rows', { base: '15 kHz' }, ['rows-too-few']],
		['too many rows', { base: '1 Hz' }, ['rows-too-many']],
		['an amplitude beyond the ends', { amplitude: '60 %' }, ['row-outside']],
		['a line that is none', { shape: 'own', own: '0\n1\nhigh' }, ['row-unread']],
		['an own shape of one value', { shape: 'own', own: '0' }, ['rows-too-few']],
		['not filled before', { prefill: 'no' }, ['table-late']],
		['written at once', { writes: 'immediate' }, ['unbuffered']],
		['written after the next update', { lag: '4000' }, ['write-late']],
		['the same channel twice', { second: 'ch1' }, ['place-missing']],
		['an amplitude below zero', { amplitude: '-1 %' }, ['field amplitude']]
	])('%s', (_, change, want) => expect(codes(coil(change))).toEqual(want));
});

describe('a pattern', () => {
	const strobe = (change: Partial<AimOf<'pattern'>>) =>
		planOf({ ...(demo.aims.find(({ id }) => id === 'strobe') as AimOf<'pattern'>), ...change });
	const line = (id: string, bit: string, levels: string) => ({ id, name: id, pin: '', bit, levels });
	test('sets and clears each line’s bit in every word', () => {
		const made = last(strobe({ lines: [line('a', '0', '0110'), line('b', '31', '10')] }));
		// A line that ends early holds its last level.
		expect(made.words).toEqual([
			{ set: 2 ** 31, clear: 1 },
			{ set: 1, clear: 2 ** 31 },
			{ set: 1, clear: 2 ** 31 },
			{ set: 0, clear: 2 ** 31 + 1 }
		]);
		expect(codes(strobe({ lines: [line('a', '0', '0110'), line('b', '31', '10')] }))).toEqual(['lines-uneven']);
	});
	test('200 kHz at 72 MHz is 360 ticks, and the lag leaves 5 us less 30 cycles', () => {
		const made = last(strobe({}));
		expect(strip(made)).toEqual(['prescale 1', 'reload 359']);
		expect([figure(made, 'length'), figure(made, 'margin')]).toEqual(['1/12500', '11/2400000']);
	});
	test.each<[string, Partial<AimOf<'pattern'>>, string[]]>([
		['a lag of a whole period', { most: '360' }, ['pattern-breaks']],
		['one cycle less', { most: '359' }, []],
		['lags the wrong way round', { least: '40' }, ['lags-reversed']],
		['a bit used twice', { lines: [line('a', '1', '01'), line('b', '1', '10')] }, ['bit-twice']],
		['a bit beyond the port', { lines: [line('a', '32', '01')] }, ['lock-refused']],
		['nothing drawn', { lines: [line('a', '0', '')] }, ['pattern-empty']],
		['a timer that asks for no transfer', { timer: 'core-down' }, ['not-paced']],
		['a bit that is none', { lines: [line('a', 'x', '01')] }, ['field lines.0.bit']]
	])('%s', (_, change, want) => expect(codes(strobe(change))).toEqual(want));
});

describe('a measured width', () => {
	const echo = (change: Partial<AimOf<'width'>>, part = demo.part, clock = demo.clock): Plan => ({
		...newPlan('w', part),
		clock,
		aims: [freshAim('width', 'w', 'echo', 'timer-f', change)]
	});
	test('takes the roundest tick near the smallest prescale that holds the longest, and its window in ticks', () => {
		const made = last(echo({ shortest: '115 us', longest: '25 ms', each: '58 us', unit: 'cm' }));
		// 25 ms x 72 MHz / 65535 = 27.5: P = 28 would do, a tick of 7/18 us; P = 36 makes 0.5 us.
		expect(strip(made)).toEqual(['prescale 36']);
		expect([figure(made, 'accept-from'), figure(made, 'accept-to')]).toEqual(['230/1', '50000/1']);
		expect(figure(made, 'scale-step')).toBe(Rational.ratio(1, 116).toString());
		// 1, 2, 4 .. 65536 and the one taken.
		const { rows } = made.table!;
		expect([rows.length, rows.find((row) => row.chosen)?.edit]).toEqual([18, { locks: { prescale: '36' } }]);
		// The chart’s points are those rows: 36 ticks of 72 MHz, and 65535 times that.
		const [chart] = made.charts!;
		expect([chart.code, chart.wanted, chart.edits![chart.chosen!]]).toEqual(['range', 0.025, { locks: { prescale: '36' } }]);
		expect(chart.series[0].points[chart.chosen!][1]).toBeCloseTo((36 * 65_535) / 72e6, 12);
		expect(codes(echo({}))).toEqual([]);
	});
	test.each<[string, Partial<AimOf<'width'>>, string[]]>([
		['longer than any prescale reaches', { longest: '10 min' }, ['width-wraps', 'width-coarse']],
		['the same with overflows counted', { longest: '10 min', overflows: 'counted' }, []],
		['finer than a tick', { step: '1 ppm' }, ['width-coarse']],
		['the wrong way round', { shortest: '1 s' }, ['range-reversed']],
		['a filter that swallows it', { filter: '7', shortest: '5 us', step: '50 %' }, ['filter-too-slow']],
		['a channel that is not there', { channel: 'gone' }, ['place-missing']],
		['a width without a unit', { longest: '3' }, ['field longest']]
	])('%s', (_, change, want) => expect(codes(echo(change))).toEqual(want));
	test('where software turns the edge round, a short pulse is over before', () => {
		const sprat = shippedPart('sprat-8')!;
		const clock = { source: 'crystal', core: '1' };
		// 60 cycles of 12 MHz are 5 us.
		const plan = (shortest: string) => ({
			...echo({ timer: 'timer-1', channel: 'in', shortest, step: '10 %', longest: '1 ms' }, sprat, clock)
		});
		expect([codes(plan('4 us')), codes(plan('6 us'))]).toEqual([['width-service'], []]);
	});
});
