import { describe, expect, test } from 'vitest';
import { derivePlan, fernhollow, fernhollowLamp, type Plan } from '../plan/index.js';
import { handOff, holdDump, planAsRead } from './index.js';

/** Whatever the plan's set-up leaves in its registers, some of them changed. */
function dumpOf(plan: Plan, changes: Record<string, number>): string {
	const { registers } = handOff(derivePlan(plan));
	return registers.map(({ register: { key }, value }) => `${key} = ${changes[key] ?? value}`).join('\n');
}

function asRead(plan: Plan, changes: Record<string, number>) {
	const of = handOff(derivePlan(plan));
	return planAsRead(of, holdDump(of, dumpOf(plan, changes))!);
}

const stripOf = (plan: Plan, aim: string) =>
	Object.fromEntries(
		derivePlan(plan)
			.aims.find((one) => one.aim.id === aim)!
			.strip.map(({ name, value }) => [name, value])
	);

describe('a plan of what registers hold', () => {
	test('is the plan itself where nothing is otherwise', () => {
		expect(asRead(fernhollow(), {})).toEqual({ plan: fernhollow(), taken: [], left: [] });
	});

	test('takes prescale and reload as they are, and leaves what follows where it was', () => {
		const { plan, taken, left } = asRead(fernhollow(), { 'TIMERD.TOPVAL': 60_000, 'TIMERD.TICKDIV': 1 });
		expect(taken.map(({ unit, quantity, read }) => `${unit}.${quantity} ${read}`).sort()).toEqual([
			'timer-d.prescale 2',
			'timer-d.reload 60000'
		]);
		expect(left).toEqual([]);
		expect(stripOf(plan, 'heater-a')).toMatchObject({ prescale: 2, reload: 60_000, compare: 21_000 });
		expect(stripOf(plan, 'heater-b')).toEqual(stripOf(fernhollow(), 'heater-b'));
	});

	test('tells what no plan can say', () => {
		const of = handOff(derivePlan(fernhollowLamp()));
		const held = holdDump(of, dumpOf(fernhollowLamp(), {}))!;
		const odd = {
			...held,
			quantities: held.quantities.map((one, i) => (i === 0 ? { ...one, planned: 'a', read: 'b', differs: true } : one))
		};
		expect(planAsRead(of, odd).left).toEqual([odd.quantities[0]]);
	});
});
