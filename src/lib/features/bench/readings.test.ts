import { describe, expect, test } from 'vitest';
import { Rational } from '../../../core/exact/index.js';
import type { WireReplay } from '../../../workers/predictWire.js';
import { readingOf, truthOf, unitOf } from './readings.js';

describe('readings', () => {
	test('are worked out exactly from their counts', () => {
		const replay = (reads: WireReplay['reads']): WireReplay => ({
			aim: 'a',
			reads,
			tickRate: '1000000',
			edges: 2,
			accepted: 2,
			at: Float64Array.of(1),
			counts: Float64Array.of(400),
			truth: Float64Array.of(28_800),
			wrong: [''],
			over: Float64Array.of(2),
			came: Float64Array.of(2)
		});
		const unit = Rational.ratio(1, 72_000_000);
		const both = (reads: WireReplay['reads']) => [readingOf(replay(reads), 0), truthOf(replay(reads), 0, unit)].map(String);
		expect(both({ kind: 'rate' })).toEqual(['5000/1', '5000/1']);
		expect(both({ kind: 'span' })).toEqual(['1/2500', '1/2500']);
		expect(both({ kind: 'gated', gate: '1/10' })).toEqual(['4000/1', '288000/1']);
		expect(unitOf(replay({ kind: 'position' }))).toBe('');
	});
});
