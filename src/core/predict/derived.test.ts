import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { differences } from '../../../tests/unit/derivedPredicted.js';
import { Dice, randomPlan, SHIPPED } from '../../../tests/unit/randomPlans.js';
import { MEETINGS } from '../../../tests/unit/meetings.js';
import { AIM_KINDS } from '../aims/index.js';
import { fernhollow, fernhollowLamp, fernhollowVane } from '../plan/index.js';

/** What the derivation says is what the simulator's own edges give after settling, exactly. */
const rolls = fc.array(fc.nat(), { minLength: 120, maxLength: 120 });
const parts = [...SHIPPED.map((part) => [part.id, part] as const), ['a random part', undefined] as const];

describe('derived = predicted', () => {
	test.each([
		['the observatory', fernhollow()],
		['its lamp', fernhollowLamp()],
		['its vane', fernhollowVane()]
	])('in %s', (_, plan) => expect(differences(plan)).toEqual([]));

	test.each(parts)('for aims of all kinds together on %s', (_, part) => {
		fc.assert(
			fc.property(rolls, (dice) => {
				const plan = randomPlan(new Dice(dice), part, AIM_KINDS);
				expect(differences(plan) ?? []).toEqual([]);
			}),
			{ numRuns: 60, seed: 20261126, endOnFailure: true }
		);
	});

	// Where two features meet; each of these was wrong once.
	test.each(MEETINGS)('%s', (_, plan) => expect(differences(plan())).toEqual([]));

	describe.each(parts)('on %s', (_, part) => {
		test.each(AIM_KINDS)('for a %s', (kind) => {
			fc.assert(
				fc.property(rolls, (dice) => {
					const plan = randomPlan(new Dice(dice), part, kind === 'follower' ? ['pwm', 'pair', kind] : [kind]);
					expect(differences(plan) ?? []).toEqual([]);
				}),
				{ numRuns: 25, seed: 20261126, endOnFailure: true }
			);
		});
	});
});
