import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { OutputProfile } from '../part/index.js';
import { activeTicks, intervalTicks } from '../timer/index.js';
import { sketchCounting, type SketchSetting } from './index.js';

const base: SketchSetting = {
	mode: 'up',
	rule: 'inclusive',
	width: 4,
	value: 5,
	compare: 2,
	output: { model: 'level', sense: 'below' },
	late: 0,
	update: 'bottom'
};
const drawn = (change: Partial<SketchSetting>, ticks = 14) => sketchCounting({ ...base, ...change }, ticks);

describe('sketchCounting', () => {
	test.each<[string, Partial<SketchSetting>, number[]]>([
		['up', {}, [0, 1, 2, 3, 4, 5, 0, 1]],
		['up, exclusive', { rule: 'exclusive' }, [0, 1, 2, 3, 4, 0, 1, 2]],
		['down', { mode: 'down' }, [5, 4, 3, 2, 1, 0, 5, 4]],
		['down, exclusive', { mode: 'down', rule: 'exclusive' }, [5, 4, 3, 2, 1, 5, 4, 3]],
		['updown', { mode: 'updown', value: 3 }, [0, 1, 2, 3, 2, 1, 0, 1]],
		['free', { mode: 'free', width: 2, value: 0 }, [0, 1, 2, 3, 0, 1, 2, 3]],
		['preload by hardware', { mode: 'preload', width: 3, value: 5 }, [5, 6, 7, 5, 6, 7, 5, 6]],
		['preload by software, two ticks late', { mode: 'preload', width: 3, value: 5, late: 2 }, [5, 6, 7, 0, 1, 5, 6, 7]],
		['clear, one tick late', { mode: 'clear', value: 3, late: 1 }, [0, 1, 2, 3, 4, 0, 1, 2]],
		['a blocked counter', { value: 0 }, [0, 0, 0, 0, 0, 0, 0, 0]]
	])('%s', (_, change, values) => expect(drawn(change, 8).values).toEqual(values));

	test('advance matches every N ticks whatever the counter is at', () => {
		expect(drawn({ mode: 'advance', value: 6, compare: 3 }, 22).events).toEqual([3, 9, 15, 21]);
	});
	test('tap rises every 2^(b+1) ticks', () => expect(drawn({ mode: 'tap', value: 1, output: undefined }, 12).events).toEqual([2, 6, 10]));
	test('period events come at the ends that are chosen', () => {
		const at = (update: SketchSetting['update']) => drawn({ mode: 'updown', value: 3, update }, 13).events;
		expect([at('bottom'), at('top'), at('both')]).toEqual([
			[6, 12],
			[3, 9],
			[3, 6, 9, 12]
		]);
	});
	test('events lie one interval apart in every way of counting (seed 81)', () => {
		const setting = fc.record({
			mode: fc.constantFrom('up', 'down', 'updown', 'free', 'preload', 'tap', 'clear'),
			rule: fc.constantFrom('inclusive', 'exclusive'),
			value: fc.integer({ min: 1, max: 3 }),
			late: fc.integer({ min: 0, max: 2 })
		});
		fc.assert(
			fc.property(setting, (random) => {
				const given = { ...base, ...random } as SketchSetting;
				const { events, period } = sketchCounting(given, 120);
				expect(period).toBe(intervalTicks(given));
				const gaps = events.slice(1).map((t, i) => t - events[i]);
				expect(events.length).toBeGreaterThan(2);
				for (const gap of gaps) expect(gap).toBe(period);
			}),
			{ seed: 81 }
		);
	});
	test('a period is active for as many ticks as the duty says (seed 82)', () => {
		const outputs = (mode: string): Record<'below' | 'above' | 'enter' | 'leave', OutputProfile> => {
			const pulse = mode === 'down' ? { top: 'high', matchDown: 'low' } : { zero: 'high', matchUp: 'low' };
			return {
				below: { model: 'level', sense: 'below' },
				above: { model: 'level', sense: 'above' },
				enter: { model: 'action', edge: 'enter', ...pulse } as OutputProfile,
				leave: { model: 'action', edge: 'leave', ...pulse } as OutputProfile
			};
		};
		const setting = fc.record({
			mode: fc.constantFrom('up', 'down', 'updown'),
			rule: fc.constantFrom('inclusive', 'exclusive'),
			value: fc.integer({ min: 1, max: 15 }),
			compare: fc.integer({ min: 0, max: 15 }),
			kind: fc.constantFrom('below', 'above', 'enter', 'leave')
		});
		fc.assert(
			fc.property(setting, ({ kind, ...random }) => {
				if (random.mode === 'updown' && (kind === 'enter' || kind === 'leave')) return;
				const given = { ...base, ...random, output: outputs(random.mode)[kind as 'below'] } as SketchSetting;
				const period = intervalTicks(given)!;
				// The second whole period: the start raises no `leave`.
				const { levels } = sketchCounting(given, 4 * period);
				const active = levels.slice(2 * period, 3 * period).filter((level) => level === 1).length;
				expect(active).toBe(activeTicks({ mode: random.mode, rule: given.rule, width: 4 }, random.value, kind as 'below', random.compare));
			}),
			{ seed: 82, numRuns: 500 }
		);
	});
});
