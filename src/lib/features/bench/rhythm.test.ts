import { expect, test } from 'vitest';
import { derivePlan, fernhollow } from '../../../core/plan/index.js';
import { rhythmOf } from './rhythm.js';

const plan = fernhollow();
const derived = derivePlan(plan);

test.each([
	// 72 MHz of the timers' clock, and a pulse's own rate.
	['heater-a', 72e6, 1200],
	['dome-motor', 72e6, 20_000],
	// A tick each 10 ms.
	['system-tick', undefined, 100]
])('%s counts %s ticks and %s periods a second', (id, tick, hz) => {
	const { tickRate, hz: found } = rhythmOf(derived, id);
	if (tick !== undefined) expect(tickRate?.toNumber()).toBe(tick);
	expect(found?.toNumber()).toBe(hz);
});

test('what is not planned, or not derived, has no rhythm', () => {
	expect(rhythmOf(derived, undefined)).toEqual({ tickRate: undefined, hz: undefined });
	const broken = derivePlan({
		...plan,
		aims: plan.aims.map((aim) => ({ ...aim, ...('rate' in aim && { rate: 'often' }) }))
	});
	expect(rhythmOf(broken, 'heater-a').hz).toBeUndefined();
});
