import { describe, expect, test } from 'vitest';
import { type Plan, applyStep, derivePlan, fernhollow, fernhollowLamp, invertStep, moveStep } from '../../../core/plan/index.js';
import { checkPlan, sharedBy } from '../../../core/check/index.js';
import { freshAim } from '../../../core/aims/index.js';
import { sharedText } from '../../text/index.js';
import { glanceOf, grouped, matches } from './glance.js';

const demo = fernhollow();
const glances = (plan: Plan) => {
	const derivation = derivePlan(plan);
	const findings = checkPlan(derivation);
	const byId = new Map(derivation.aims.map((one) => [one.aim.id, one]));
	return plan.aims.map(({ id }) => glanceOf(byId.get(id)!, findings, derivation.pins));
};
const shares = (plan: Plan, a: string, b: string) => sharedBy(derivePlan(plan), a, b).map((one) => sharedText(one, (id) => id));

describe('the board', () => {
	test('tells each aim’s place, wish and what it comes to', () => {
		const [heater, , , motor] = glances(demo);
		expect(heater).toMatchObject({ kind: 'pulse train', place: 'Timer D · B6', wish: '1.2 kHz, 35 %', faults: 0, warnings: 0 });
		expect(heater.comes.map(({ value, unit }) => `${value} ${unit}`)).toEqual(['1200/1 Hz', '7/20 %']);
		expect(motor.place).toBe('Timer A · A8, B13');
		for (const { comes, wish, aim } of glances(demo)) {
			expect([aim.id, comes.length > 0, /undefined/.test(wish)]).toEqual([aim.id, true, false]);
		}
	});
	test('counts what is wrong with it', () => {
		const aims = demo.aims.map((aim) => (aim.id === 'heater-a' && aim.kind === 'pwm' ? { ...aim, rate: '1 GHz' } : aim));
		expect(glances({ ...demo, aims })[0].faults).toBeGreaterThan(0);
	});
	test('filters by every word, of name, kind, place, group or state', () => {
		const found = (text: string) =>
			glances(demo)
				.filter((glance) => matches(glance, text))
				.map(({ aim }) => aim.id);
		expect(found('heater')).toEqual(['heater-a', 'heater-b', 'heater-c']);
		expect(found('HEATER h · b4')).toEqual(['heater-b']);
		expect(found('drives')).toEqual(['dome-motor', 'focus-coil']);
		expect(found('fault')).toEqual([]);
		expect(found('B13')).toEqual(['dome-motor']);
	});
	test('groups stand in the order of their first aim, those without one last', () => {
		expect(grouped(glances(demo)).map(({ group, glances: some }) => [group, some.length])).toEqual([
			['dew heaters', 3],
			['drives', 2],
			['dome', 2],
			['', 3]
		]);
	});
	test('a move puts an aim in another’s place and group, and is undone as one', () => {
		const step = moveStep(demo, 9, 0, 'dew heaters', 'move it');
		const moved = applyStep(demo, step);
		expect(moved.aims.map(({ id }) => id).slice(0, 2)).toEqual(['system-tick', 'heater-a']);
		expect(moved.aims[0].group).toBe('dew heaters');
		expect(applyStep(moved, invertStep(step))).toEqual(demo);
	});
});

describe('what two aims share', () => {
	test('a timer, and who decides for it', () => {
		expect(shares(demo, 'dome-motor', 'focus-coil')).toEqual([
			'Both are on Timer A: “dome motor” decides prescale 1 and reload 3599 for it.',
			'Their clocks part after timer-a-on at 72 MHz: what is changed up to there moves both.',
			'Their rates are as 1 to 1: both begin a period together every 50 µs.'
		]);
	});
	test('a leader, a clock and the beat of their rates', () => {
		const said = shares(demo, 'heater-a', 'heater-b');
		expect(said[0]).toBe('Each has a timer of its own: Timer D and Timer H.');
		expect(said[1]).toBe('“dew heater B” follows “dew heater A”.');
		expect(said[2]).toContain('part after core at 72 MHz');
		// 1.2 kHz and 20 kHz: 3 periods of one are 50 of the other, 2.5 ms.
		expect(shares(demo, 'heater-a', 'dome-motor').at(-1)).toBe('Their rates are as 3 to 50: both begin a period together every 2.5 ms.');
	});
	test('nothing but themselves on different sources', () => {
		const lamp = fernhollowLamp();
		const watch = { ...freshAim('pwm', 'w', 'watch', 'timer-2', { channel: 'a' }), rate: '1 Hz' };
		const plan = { ...lamp, clock: { ...lamp.clock, 'slow-source': 'watch' }, aims: [...lamp.aims, watch] };
		expect(shares(plan, 'lamp', 'w')).toContain('Their clocks come from different sources: they drift against each other.');
		expect(shares(plan, 'lamp', 'gone')).toEqual([]);
	});
});
