import { describe, expect, test } from 'vitest';
import { derivePlan, fernhollow } from '../../core/plan/index.js';
import type { PlanSession } from './session.svelte.js';
import { typedReading } from './typedReading.js';

const plan = fernhollow();
const session = { plan, derivation: derivePlan(plan) } as PlanSession;
const first = (line: string) => {
	const [offer] = typedReading(session, line)?.offers ?? [];
	return offer && [offer.reading.aim, offer.of, offer.reading.value];
};

describe('a reading as it is said', () => {
	test.each([
		['measured 1.19 kHz', ['heater-a', 'frequency', '1.19 kHz']],
		['reads 29.4 us', ['dome-motor', 'high', '29.4 us']],
		['read 290 µs of dew heater B', ['heater-b', 'high', '290 µs']],
		['Measured 59.5 % on dome motor', ['dome-motor', 'duty', '59.5 %']]
	])('%s', (line, want) => {
		expect(first(line)).toEqual(want);
	});
	test('of nothing that is planned has no offers; what says no such thing is none', () => {
		expect(typedReading(session, 'measured 3 apples')).toEqual({ value: '3 apples', offers: [] });
		expect(typedReading(session, '1.2 kHz 35 % on B6')).toBeUndefined();
	});
});
