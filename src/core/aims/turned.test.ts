import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Dice, randomPlan, SHIPPED } from '../../../tests/unit/randomPlans.js';
import { MILLION, ppmError, Rational } from '../exact/index.js';
import { derivePlan, fernhollow } from '../plan/index.js';
import { nearestActive } from '../timer/index.js';
import { freshAim, nearestPeriod, turnedAt, turnedOf, type Turned } from './index.js';

const demo = fernhollow();
const aimOf = (aim: ReturnType<typeof freshAim>) => derivePlan({ ...demo, aims: [aim] }).aims[0];
const within = ({ low, high }: Turned, k: number, of: number) => low.add(high.sub(low).mul(Rational.ratio(k, of)));

describe('a formula turned around', () => {
	test('1.2 kHz at 72 MHz without prescaling: 60000 ticks are reload 59999; 1.7 kHz is nearest at 42353 ticks', () => {
		const [rate] = turnedOf(aimOf(freshAim('pwm', 'p', 'p', 'timer-d', { channel: 'ch1', rate: '1.2 kHz', tolerance: '0.1 %' })));
		expect(turnedAt(rate, Rational.int(1200))).toMatchObject({ value: 59_999 });
		// 72 MHz / 1.7 kHz = 42352.94
		expect(turnedAt(rate, Rational.int(1700))!.value).toBe(42_352);
		// 0.1 %: 1 / (2u + 1) <= 1 / 1000 from u = 500 on, which is 144 kHz.
		expect([rate.low.toString(), rate.high.toString(), rate.worst.value.toString()]).toEqual(['140625/128', '144000/1', '1000000/1001']);
		expect([turnedAt(rate, Rational.int(1)), turnedAt(rate, Rational.int(-5)), turnedAt(rate, Rational.zero)]).toEqual([
			undefined,
			undefined,
			undefined
		]);
	});
	test('a one-shot of 500 us and 20 ms on a tick of a third of a microsecond: compare 1500, reload 61499', () => {
		const made = turnedOf(aimOf(freshAim('oneshot', 'o', 'o', 'timer-f', { input: 'in1', delay: '500 us', width: '20 ms' })));
		expect(made.map(({ of, register }) => `${of} ${register}`)).toEqual(['delay compare', 'width reload']);
		expect(turnedAt(made[0], Rational.ratio(1, 2000))!.value).toBe(1500);
		expect(turnedAt(made[1], Rational.ratio(1, 50))!.value).toBe(61_499);
	});

	const rolls = fc.array(fc.nat(), { minLength: 120, maxLength: 120 });
	test.each([...SHIPPED.map((part) => [part.id, part] as const), ['a random part', undefined] as const])(
		'is what the search would choose, and off by no more than it says, on %s',
		(_, part) => {
			fc.assert(
				fc.property(rolls, fc.nat(1000), (dice, k) => {
					for (const derivation of derivePlan(randomPlan(new Dice(dice), part)).aims) {
						const { tradeoff, wishes, pulse, timer } = derivation;
						for (const turned of turnedOf(derivation)) {
							const wish = within(turned, k, 1000);
							const made = turnedAt(turned, wish)!;
							expect(made).toBeDefined();
							if (turned.of === 'rate') {
								const share = tradeoff!.wish.div(wishes!.rate.value);
								const { now, kernel, counting } = tradeoff!;
								const best = nearestPeriod({ counting, kernel, wish: wish.mul(share) }, timer!.prescaler, { prescale: now!.prescale })!;
								expect(made.value).toBe(best.reload);
								expect(ppmError(made.gives, wish).abs().compare(turned.worst.value)).toBeLessThanOrEqual(0);
							} else if (turned.of === 'duty') {
								const best = nearestActive(pulse!.counting, pulse!.reload, pulse!.rule, wish.mul(Rational.int(pulse!.ticks)))!;
								expect([made.value, made.gives.toString()]).toEqual([best.compare, best.duty.toString()]);
								expect(made.gives.sub(wish).abs().compare(turned.worst.value)).toBeLessThanOrEqual(0);
							} else expect(made.gives.sub(wish).abs().compare(turned.worst.value)).toBeLessThanOrEqual(0);
						}
					}
				}),
				{ numRuns: 40, seed: 20261126, endOnFailure: true }
			);
		}
	);
	test('gives back what is set: every register of the demo', () => {
		for (const derivation of derivePlan(demo).aims)
			for (const turned of turnedOf(derivation)) {
				const link = derivation.strip.find(({ name }) => name === turned.register)!;
				const steps = turned.slope * (link.value - turned.offset);
				const wish = turned.kind === 'over' ? turned.factor.div(Rational.int(steps)) : Rational.int(steps).div(turned.factor);
				expect(turnedAt(turned, wish)).toEqual({ value: link.value, gives: wish });
			}
		expect(MILLION.toString()).toBe('1000000/1');
	});
});
