import { describe, expect, test } from 'vitest';
import { readQuantity, Rational } from '../../core/exact/index.js';
import type { AimOf } from '../../core/aims/index.js';
import { type Plan, derivePlan, readPlan } from '../../core/plan/index.js';
import { checkPlan } from '../../core/check/index.js';
import firstPlan from '../../core/plan/fixtures/plan-1.json' with { type: 'json' };
import {
	decade,
	findingPlace,
	findingText,
	formulaText,
	hertz,
	percent,
	ppm,
	problemText,
	registerText,
	seconds,
	signed,
	typedTime,
	verdictText
} from './index.js';

const plan = readPlan(firstPlan);
const said = (change: Partial<AimOf<'pwm'>>, clock: Plan['clock'] = {}) => {
	const doc = { ...plan, clock: { ...plan.clock, ...clock }, aims: [{ ...(plan.aims[0] as AimOf<'pwm'>), ...change }] };
	return checkPlan(derivePlan(doc)).map((f) => `${findingPlace(f, doc)}: ${findingText(f)}`);
};

describe('numbers', () => {
	test('say when they are rounded', () => {
		expect(seconds(Rational.ratio(1, 1200))).toBe('≈833.3333 µs');
		expect(hertz(Rational.int(1200))).toBe('1.2 kHz');
		expect(percent(Rational.ratio(1, 3), 4)).toBe('≈33.33 %');
	});
	test('are typed as they are read back, to the picosecond', () => {
		for (const text of ['0 us', '1234.5 us', '-0.000001 us', '-1000 us']) {
			const read = readQuantity(text);
			expect(read.ok && typedTime(read.quantity.value)).toBe(text);
		}
		expect(typedTime(Rational.parse('1/3'))).toBe('333333.333333 us');
	});
	test('carry their sign', () => {
		const minus = Rational.ratio(-1, 3);
		expect(signed(ppm(minus, 3), minus)).toBe('≈−0.333 ppm');
		expect(signed(ppm(minus.neg(), 3), minus.neg())).toBe('≈+0.333 ppm');
		expect(signed('0', Rational.zero)).toBe('0');
	});
	test.each([
		[1e4, '10k', '10,000'],
		[1e6, '1M', '1,000,000'],
		[100, '100', '100'],
		[0.001, '1m', '0.001'],
		[1e-7, '100n', '0.0000001'],
		[2000, '', ''],
		[0, '', '']
	])('%d at an axis is "%s", or plainly "%s"', (value, short, plain) => {
		expect([decade(value), decade(value, true)]).toEqual([short, plain]);
	});
});

describe('findings', () => {
	test('name place, numbers and reason', () => {
		expect(said({ rate: '0.01 Hz' })[0]).toBe(
			'dew heater A: 10 mHz is slower than this timer reaches: ≈16.76381 mHz with the largest prescale and reload. What would reach it: a count to 2 in software.'
		);
		expect(said({}, { crystal: '30 MHz' })[1]).toBe(
			'Crystal: 30 MHz is above the limit of 26 MHz: the oscillator is made for 26 MHz at the most.'
		);
		expect(said({ duty: '35' })).toEqual([
			'dew heater A: The duty: A number alone does not say enough; a duty such as 35 % or 1/3, a time such as 120 us on, or a count such as 2100 ticks is wanted.'
		]);
	});
	test('quote a unit that is not known', () => {
		expect(problemText({ reason: 'unknown-unit', expected: 'rate', unit: 'furlong' })).toContain('“furlong” is no unit known here');
	});
});

test('a verdict without a period says so', () => {
	expect(verdictText({ outcome: 'undecided', asSet: 'undecided', asWished: 'undecided', reason: 'no-whole-period', quantities: [] })).toBe(
		'The window holds no whole period of this line.'
	);
});

describe('an equation', () => {
	const int = (value: number) => Rational.int(value);
	const tick = (ticks: number) =>
		formulaText({ code: 'tick', numbers: { wish: Rational.ratio(3, 1000), kernel: int(1_500_000), prescale: int(1), ticks: int(ticks) } });
	test('holds, or says what is set instead', () => {
		expect(tick(4500)).toMatch(/= 4500$/);
		expect(tick(4512)).toMatch(/= 4500, but set is 4512$/);
	});
	test('whose result is rounded says so', () => {
		const numbers = { wish: Rational.ratio(1, 3000), kernel: int(1_000_000), prescale: int(1), ticks: int(333) };
		expect(formulaText({ code: 'tick', numbers })).toMatch(/≈ 333\.33333 → 333$/);
	});
	test('of a one-shot holds for both kinds of counters', () => {
		const shot = (reload: number) =>
			formulaText({
				code: 'oneshot',
				numbers: {
					delay: Rational.ratio(1, 1000),
					width: Rational.ratio(1, 500),
					kernel: int(1_000_000),
					prescale: int(1),
					compare: int(1000),
					delayTicks: int(1000),
					widthTicks: int(2000),
					reload: int(reload)
				}
			});
		expect(shot(2999)).toMatch(/reload = 1000 \+ 2000 − 1 = 2999$/);
		expect(shot(3000)).toMatch(/reload = 1000 \+ 2000 = 3000$/);
	});
});

test('stages of a prescaler in a row say their registers', () => {
	const stages = [
		{ ratio: 8, code: 3, width: 2 },
		{ ratio: 12, code: null, width: 1 },
		{ ratio: 5, code: 4, width: 5 }
	];
	const { short, full } = registerText({ name: 'prescale', value: 480, stages });
	expect([short, full]).toEqual(['registers 0x3, 0x4', '÷ 8 by 3 = 0x3, then ÷ 12, then ÷ 5 by 4 = 0x4']);
});
