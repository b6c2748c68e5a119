import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { StretchedTrace, type Repeat } from './index.js';

/** Stored edges and repeats, and all edges written out. */
const traces = fc
	.array(
		fc.record({
			gaps: fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 4 }),
			tail: fc.integer({ min: 1, max: 9 }),
			times: fc.integer({ min: 0, max: 5 })
		}),
		{ minLength: 1, maxLength: 4 }
	)
	.map((parts) => {
		const stored: number[] = [];
		const repeats: Repeat[] = [];
		const all: number[] = [];
		let now = 0;
		for (const { gaps, tail, times } of parts) {
			const begun = now;
			const first = stored.length;
			for (const gap of gaps) {
				now += gap;
				stored.push(now);
				all.push(now);
			}
			now += tail;
			const period = now - begun;
			// An even number of edges a period, as every state that comes again has.
			if (times === 0 || gaps.length % 2 === 1) continue;
			const own = stored.slice(first);
			repeats.push({ first, count: own.length, period, times, from: now + 1 });
			for (let k = 1; k <= times; k++) all.push(...own.map((time) => time + k * period));
			now += times * period;
		}
		return { trace: new StretchedTrace(Rational.one, 0, Float64Array.from(stored), repeats), all };
	});

describe('a stretched trace', () => {
	test('answers as the same edges written out', () => {
		fc.assert(
			fc.property(traces, ({ trace, all }) => {
				expect(trace.count).toBe(all.length);
				expect([...trace.times64(0, trace.count)]).toEqual(all);
				all.forEach((time, i) => expect(trace.edgeTime(i)).toBe(time));
				for (let t = -2; t < (all.at(-1) ?? 0) + 3; t++)
					expect([t, trace.edgesBefore(t)]).toEqual([t, all.filter((time) => time < t).length]);
				for (let from = 0; from < all.length; from += 3) expect([...trace.times64(from, all.length)]).toEqual(all.slice(from));
			}),
			{ numRuns: 400, seed: 99 }
		);
	});
	test('an hour of 20 kHz is four numbers, and its last edge is where it must be', () => {
		const hour = new StretchedTrace(Rational.one, 1, Float64Array.of(1260, 3600), [
			{ first: 0, count: 2, period: 3600, times: 71_999_999, from: 3601 }
		]);
		expect(hour.count).toBe(144_000_000);
		expect(hour.edgeTime(143_999_999)).toBe(3600 * 72_000_000);
		expect(hour.edgesBefore(3600 * 36_000_000)).toBe(72_000_000 - 1);
		expect(() => hour.edgeTime(144_000_000)).toThrow(RangeError);
		expect(hour.levelAfter(3)).toBe(0);
	});
});
