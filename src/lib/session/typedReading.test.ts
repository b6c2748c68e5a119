import { describe, expect, test } from 'vitest';
import { derivePlan, fernhollow } from '../../core/plan/index.js';
import { typedReading } from './typedReading.js';

const session = { derivation: derivePlan(fernhollow()) };
const first = (line: string) => {
	const [offer] = typedReading(session, line)?.offers ?? [];
	return offer && [offer.aim, offer.of];
};

describe('a reading as it is said', () => {
	test.each([
		['measured 1.19 kHz', ['heater-a', 'frequency']],
		['reads 29.4 us', ['dome-motor', 'high']],
		['read 290 µs of dew heater B', ['heater-b', 'high']],
		['Measured 59.5 % on dome motor', ['dome-motor', 'duty']]
	])('%s', (line, want) => {
		expect(first(line)).toEqual(want);
	});
	test('of nothing that is planned has no offers; what says no such thing is none', () => {
		expect(typedReading(session, 'measured 3 apples')).toEqual({ value: '3 apples', offers: [] });
		expect(typedReading(session, '1.2 kHz 35 % on B6')).toBeUndefined();
	});
});
