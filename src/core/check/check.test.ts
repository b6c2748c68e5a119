import { describe, expect, test } from 'vitest';
import { freshAim, type AimOf } from '../aims/index.js';
import { derivePlan, readPlan, type Plan } from '../plan/index.js';
import firstPlan from '../plan/fixtures/plan-1.json' with { type: 'json' };
import { checkPlan } from './index.js';

/** The first demo, on a small Heron-32, as it was frozen. */
const plan = readPlan(firstPlan);

/** The demo with its aim and clock changed. */
function changed(aim: Partial<AimOf<'pwm'>>, clock: Plan['clock'] = {}): Plan {
	return { ...plan, clock: { ...plan.clock, ...clock }, aims: [{ ...(plan.aims[0] as AimOf<'pwm'>), ...aim }] };
}

function derived(doc: Plan) {
	return derivePlan(doc).aims[0];
}

const codes = (doc: Plan) => checkPlan(derivePlan(doc)).map((f) => f.code);
const setting = (doc: Plan) => {
	const s = derived(doc).pulse;
	return s && [s.prescale, s.reload, s.compare, String(s.hz), String(s.duty)];
};

describe('derivePlan', () => {
	test('the demo: prescale 1, reload 59999, compare 21000, met exactly', () => {
		expect(setting(plan)).toEqual([1, 59999, 21000, '1200/1', '7/20']);
		expect(derived(plan).clock.map((l) => `${l.node.id} ${l.hz}`)).toEqual([
			'crystal 12000000/1',
			'loop-in 12000000/1',
			'loop 144000000/1',
			'loop-out 72000000/1',
			'core 72000000/1',
			'bus 72000000/1',
			'timer-kernel 72000000/1'
		]);
		expect(codes(plan)).toEqual([]);
	});

	test.each<[string, Partial<AimOf<'pwm'>>, Plan['clock'], unknown[]]>([
		// 72 MHz x 850 us = 61200 ticks; 35 % of them is 21420.
		['850 us as a period', { rate: '850 us' }, {}, [1, 61199, 21420, '20000/17', '7/20']],
		// 120 us x 72 MHz = 8640 ticks of 60000.
		['120 us on', { duty: '120 us on' }, {}, [1, 59999, 8640, '1200/1', '18/125']],
		['120 us off', { duty: '120 us off' }, {}, [1, 59999, 51360, '1200/1', '107/125']],
		['2100 ticks', { duty: '2100 ticks' }, {}, [1, 59999, 2100, '1200/1', '7/200']],
		['a third', { duty: '1/3' }, {}, [1, 59999, 20000, '1200/1', '1/3']],
		// 8 MHz x 12 / 2 = 48 MHz: 40000 ticks.
		['a crystal of 8 MHz', {}, { crystal: '8 MHz' }, [1, 39999, 14000, '1200/1', '7/20']],
		// The bus at half the core: the timer is doubled back to 72 MHz.
		['bus divided by 2', {}, { bus: '2' }, [1, 59999, 21000, '1200/1', '7/20']],
		['a held prescale', { locks: { prescale: '2' } }, {}, [2, 29999, 10500, '1200/1', '7/20']],
		['a held reload', { locks: { reload: '0x752F' } }, {}, [2, 29999, 10500, '1200/1', '7/20']],
		['a held compare', { locks: { compare: '100' } }, {}, [1, 59999, 100, '1200/1', '1/600']]
	])('%s', (_, aim, clock, want) => expect(setting(changed(aim, clock))).toEqual(want));

	test('resolution is wished for too: a coarser exact setting gives way to a finer one within the tolerance', () => {
		// 72 MHz / 70 kHz = 1028.57: 1029 ticks is the nearest at all, and has the 10 bits; at 9 bits nothing changes.
		expect(setting(changed({ rate: '70 kHz', tolerance: '0.1 %' }))![1]).toBe(1028);
		// 100 kHz = 720 ticks has no 10 bits: the nearest is kept, and said to be short.
		expect(codes(changed({ rate: '100 kHz' }))).toEqual(['bits-short']);
	});
});

test('a setting that makes no sense is not replaced by a guess: what hangs on it is unknown', () => {
	const doc = changed({}, { crystal: '12 M' });
	expect(derived(doc).pulse).toBeUndefined();
	expect(derived(doc).clock.every((link) => link.unknown && link.hz === null)).toBe(true);
	expect(setting(changed({ rate: '1 kHz' }, { crystal: '12 M', core: 'rc' }))).toEqual([1, 7999, 2800, '1000/1', '7/20']);
});

describe('checkPlan', () => {
	test.each<[string, Partial<AimOf<'pwm'>>, Plan['clock'], string[]]>([
		['a rate too slow for the timer', { rate: '0.01 Hz' }, {}, ['rate-too-slow', 'full-duty-unreachable']],
		['a rate too fast', { rate: '72 MHz', bits: '0' }, {}, ['rate-too-fast']],
		['no setting near enough', { rate: '1.00007 MHz', tolerance: '1 ppm', bits: '2', duty: '50 %' }, {}, ['rate-outside', 'source-loose']],
		['too few ticks', { rate: '200 kHz' }, {}, ['bits-short']],
		['an on-time longer than the period', { duty: '1 ms on' }, {}, ['duty-over-period']],
		['an off-time longer than the period', { duty: '1 ms off' }, {}, ['duty-below-zero']],
		[
			'a duty that steps cannot reach',
			{ rate: '10 MHz', bits: '3', duty: '1/3', tolerance: '5 %', locks: { reload: '6', prescale: '1' } },
			{},
			['bits-short']
		],
		['100 % out of reach', { locks: { reload: '65535', prescale: '1' }, tolerance: '50 %' }, {}, ['full-duty-unreachable']],
		['a lock beyond the register', { locks: { reload: '65536' } }, {}, ['lock-refused']],
		['a prescale not offered', { locks: { prescale: '65537' } }, {}, ['lock-refused']],
		['a compare beyond the register', { locks: { compare: '70000' } }, {}, ['lock-refused']],
		['a crystal past its limit', {}, { crystal: '30 MHz' }, ['clock-limit', 'clock-limit', 'clock-limit']],
		['a factor not offered', {}, { loop: '100' }, ['clock-setting']],
		['a setting that is no number', {}, { loop: 'twelve' }, ['field']],
		['one that is no number on a branch that is not used', {}, { loop: 'twelve', core: 'rc' }, ['field', 'source-loose']],
		['an unknown timer', { timer: 'gone' }, {}, ['timer-missing']],
		['an unknown channel', { channel: 'gone' }, {}, ['channel-missing']]
	])('%s', (_, aim, clock, want) => {
		const found = codes(changed(aim, clock)).filter((c) => c !== 'rate-outside' || want.includes('rate-outside'));
		expect(found).toEqual(want);
	});

	test('two aims on one timer share prescale and reload; one that cannot live with them is told', () => {
		const second = { ...freshAim('pwm', 'b', 'heater B', 'timer-a', { channel: 'ch2' }), rate: '1.2 kHz' };
		const both = (rate: string): Plan => ({ ...plan, aims: [plan.aims[0], { ...second, rate }] });
		expect(codes(both('1.2 kHz'))).toEqual([]);
		expect(codes(both('1 kHz'))).toEqual(['reload-shared']);
		expect(derivePlan(both('1 kHz')).aims[1].pulse!.reload).toBe(59999);
		expect(codes({ ...plan, aims: [plan.aims[0], { ...second, channel: 'ch1' }] })).toEqual(['channel-shared']);
	});

	test.each([
		['rate', 'fast'],
		['rate', '0 Hz'],
		['rate', '35 %'],
		['tolerance', '0.1'],
		['tolerance', '-1 %'],
		['duty', '35'],
		['duty', '120 %'],
		['duty', '3 kHz'],
		['bits', '2.5'],
		['bits', '33 bits'],
		['bits', '']
	] as const)('a %s of %j is a fault at its field', (field, text) => {
		const found = checkPlan(derivePlan(changed({ [field]: text })));
		expect(found.filter((f) => f.code === 'field').map((f) => [f.severity, f.code === 'field' && f.field])).toEqual([['fault', field]]);
	});
});
