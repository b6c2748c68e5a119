import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Dice, randomPlan, SHIPPED } from '../../../tests/unit/randomPlans.js';
import { AIM_KINDS } from '../aims/index.js';
import { checkPlan } from '../check/index.js';
import { averageTables, deriveChanges, planSystem } from '../predict/index.js';
import { Predictor } from '../sim/index.js';
import { documentText, findingText } from '../../lib/text/index.js';
import { derivePlan, planDocument, type Plan } from './index.js';

/** Texts that people, scripts and cats type into fields. */
const TEXTS = [
	'',
	' ',
	'0',
	'-1',
	'1',
	'1e24 Hz',
	'1e308 Hz',
	'1e-300 Hz',
	'1e30 s',
	'1e-30 s',
	'200 h',
	'1/3',
	'1/0',
	'0x',
	'0xFFFFFFFFFFFFFFFF',
	'4294967295',
	'8589934591',
	'99999999999999999999',
	'50 %',
	'101 %',
	'-0',
	'1.2.3',
	'∞',
	'NaN',
	'Infinity',
	'١٢',
	'1 kHz 2',
	'kHz',
	'1,5 ms',
	'-5 us',
	'1e5',
	'3 turns',
	'720 deg',
	'1000000 ticks',
	'0b1111',
	"'; drop",
	'<b>',
	'__proto__',
	'toString',
	'💥',
	'a'.repeat(120)
];
const rolls = fc.array(fc.nat(), { minLength: 200, maxLength: 200 });

/** A random plan with some of its texts replaced by hostile ones, as far as the schema takes them. */
function hostilePlan(dice: Dice): Plan {
	const plan = randomPlan(dice, dice.pick([...SHIPPED, undefined]), AIM_KINDS);
	const aims = plan.aims.map((aim) => spoiled(aim, dice) as (typeof plan.aims)[number]);
	const clock = Object.fromEntries(plan.part.clock.filter(() => dice.chance(1, 4)).map(({ id }) => [id, dice.pick(TEXTS)]));
	const timer = plan.part.timers[dice.roll(plan.part.timers.length)].id;
	const row = { id: 'r', at: dice.pick(TEXTS), rate: dice.pick(TEXTS), prescale: dice.pick(TEXTS), duties: { ch1: dice.pick(TEXTS) } };
	const list = {
		id: 'l',
		timer,
		pace: 'times',
		every: dice.pick(TEXTS),
		lag: '1',
		apart: dice.pick(TEXTS),
		order: 'reload-first',
		loop: 'no',
		rows: [row]
	};
	const raw = { ...plan, clock: { ...plan.clock, ...clock }, aims, changes: dice.chance(1, 3) ? [list] : [] };
	const read = planDocument.safeParse(raw);
	return read.success ? read.data : plan;
}

function spoiled(aim: object, dice: Dice): object {
	return Object.fromEntries(
		Object.entries(aim).map(([key, value]) => {
			if (['id', 'kind', 'timer', 'pins'].includes(key) || !dice.chance(1, 4)) return [key, value as unknown];
			if (key === 'locks') return [key, { prescale: dice.pick(TEXTS), reload: dice.pick(TEXTS) }];
			return [key, typeof value === 'string' ? dice.pick(TEXTS) : (value as unknown)];
		})
	);
}

describe('no document that passes the schema', () => {
	test('makes a derivation, its findings, its texts or its prediction throw or hang', () => {
		fc.assert(
			fc.property(rolls, (dice) => {
				const plan = hostilePlan(new Dice(dice));
				const began = performance.now();
				const derivation = derivePlan(plan);
				const findings = checkPlan(derivation);
				expect(findings.filter(({ code }) => code === 'derivation-failed')).toEqual([]);
				for (const finding of findings)
					expect(findingText(finding).replaceAll(/“[^”]*”|filter \S+/g, '')).not.toMatch(/undefined|NaN|\[object/);
				const planned = planSystem(derivation);
				expect(planned.unplanned.filter(({ why }) => why === 'failed')).toEqual([]);
				const predictor = new Predictor(planned.system, planned.unit);
				predictor.runTo(Math.min(1e9, 0.01 / planned.unit.toNumber()), 20_000);
				averageTables(derivation, predictor.prediction());
				deriveChanges(derivation);
				// Ten times what the slowest of them takes.
				expect(performance.now() - began).toBeLessThan(10_000);
			}),
			{ numRuns: 250, seed: 20261126, endOnFailure: true }
		);
	});
	test('a rate beyond all reach is answered at once', () => {
		const plan = randomPlan(new Dice([0]), SHIPPED[0], ['pwm']);
		const aims = plan.aims.map((aim) => ({ ...aim, rate: '1e24 Hz' }) as typeof aim);
		expect(checkPlan(derivePlan({ ...plan, aims })).map(({ code }) => code)).toContain('rate-too-fast');
	});
	test('an unknown finding of a document has words', () => expect(documentText({ code: 'wrong-format' })).toContain('form'));
});
