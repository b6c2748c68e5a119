import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Rational } from '../exact/index.js';
import { activeRange, activeTicks, nearestActive, nearestDuty, periodTicks, steadyWave, type Counting, type OutputRule } from './index.js';

/**
 * The slow twin: counts one period tick by tick as timers.md 3 and 5 say, and tells the level of every tick.
 * For the action rules the level before the first event is low, and the period shown is the second.
 */
function levels({ mode, rule, width }: Counting, reload: number, output: OutputRule, compare: number): boolean[] {
	const ticks = periodTicks({ mode, rule, width }, reload)!;
	const values = Array.from({ length: ticks }, (_, i) => {
		if (mode === 'up') return i;
		if (mode === 'updown') return i <= reload ? i : ticks - i;
		return reload === 0 ? (2 ** width - i) % 2 ** width : reload - i;
	});
	if (output === 'below' || output === 'above') {
		const falling = (i: number) => mode === 'down' || (mode === 'updown' && i >= reload);
		return values.map((n, i) => (falling(i) ? n <= compare : n < compare) === (output === 'below'));
	}
	if (output === 'turns') {
		// The second period: each value but 0 and those on the way down is reached going up.
		let on = false;
		const level = values.concat(values).map((n, i) => {
			const up = i % ticks > 0 && i % ticks <= reload;
			if (n === compare) on = !up;
			return on;
		});
		return level.slice(ticks);
	}
	const level: boolean[] = [];
	let now = false;
	for (let turn = 0; turn < 2; turn++) {
		for (let i = 0; i < ticks; i++) {
			// At the boundary into tick i: a leave match of the tick before, then the turn of the period, then an enter match.
			const before = values[(i + ticks - 1) % ticks];
			if (output === 'leave' && before === compare && (turn > 0 || i > 0)) now = false;
			if (i === 0) now = true;
			if (output === 'enter' && values[i] === compare) now = false;
			if (turn === 1) level.push(now);
		}
	}
	return level;
}

const RULES: [Counting['mode'], Counting['rule'], OutputRule[]][] = [
	['up', 'inclusive', ['below', 'above', 'enter', 'leave']],
	['up', 'exclusive', ['below', 'above', 'enter', 'leave']],
	['down', 'inclusive', ['below', 'above', 'enter', 'leave']],
	['down', 'exclusive', ['below', 'above', 'enter', 'leave']],
	['updown', 'inclusive', ['below', 'above', 'turns']]
];
const WIDTH = 4;
const CASES = RULES.flatMap(([mode, rule, outputs]) => outputs.map((output) => [mode, rule, output] as const));

describe.each(CASES)('%s %s %s', (mode, rule, output) => {
	const counting: Counting = { mode, rule, width: WIDTH };
	const reloads = Array.from({ length: 16 }, (_, i) => i).filter((r) => periodTicks(counting, r) !== null);

	test('active ticks are those counted tick by tick, for every reload and compare of 4 bits', () => {
		for (const reload of reloads)
			for (let compare = 0; compare < 16; compare++) {
				const counted = levels(counting, reload, output, compare).filter(Boolean).length;
				expect([reload, compare, activeTicks(counting, reload, output, compare)]).toEqual([reload, compare, counted]);
			}
	});

	test('the wave has just those levels, tick by tick', () => {
		for (const reload of reloads)
			for (let compare = 0; compare < 16; compare++) {
				const wave = steadyWave({ counting, reload, compare, output, inverted: false }, Rational.one)!;
				const counted = levels(counting, reload, output, compare);
				const drawn = counted.map((_, i) => wave.levelAfter(wave.edgesBefore(i + 1)) === 1);
				expect([reload, compare, ...drawn]).toEqual([reload, compare, ...counted]);
			}
	});

	test('the compare chosen is the best of all by trying all (seed 11)', () => {
		fc.assert(
			fc.property(fc.constantFrom(...reloads), fc.integer({ min: 0, max: 240 }), (reload, sixteenths) => {
				const ticks = periodTicks(counting, reload)!;
				const wanted = Rational.ratio(sixteenths * ticks, 240);
				const all = Array.from({ length: 16 }, (_, compare) => ({ compare, active: activeTicks(counting, reload, output, compare)! }));
				const off = (active: number) => Rational.int(active).sub(wanted).abs();
				all.sort((a, b) => off(a.active).compare(off(b.active)) || b.active - a.active || a.compare - b.compare);
				expect(nearestActive(counting, reload, output, wanted)!.compare).toBe(all[0].compare);
			}),
			{ seed: 11 }
		);
	});
});

describe('periodTicks', () => {
	const of = (mode: Counting['mode'], rule: Counting['rule'], reload: number) => periodTicks({ mode, rule, width: 16 }, reload);
	test('follows the table of timers.md 3', () => {
		expect([
			of('up', 'inclusive', 59999),
			of('up', 'exclusive', 60000),
			of('down', 'inclusive', 99),
			of('updown', 'inclusive', 100)
		]).toEqual([60000, 60000, 100, 200]);
	});
	test('reload 0 blocks, or means 2^w in an exclusive counter', () => {
		expect([of('up', 'inclusive', 0), of('updown', 'inclusive', 0), of('down', 'exclusive', 0)]).toEqual([null, null, 65536]);
	});
	test.each([-1, 65536, 0.5])('reload %s does not fit', (reload) => expect(() => of('up', 'inclusive', reload)).toThrow(RangeError));
});

test('the demo: 35 % of 60000 ticks is compare 21000', () => {
	expect(nearestDuty({ mode: 'up', rule: 'inclusive', width: 16 }, 59999, 'below', Rational.ratio(7, 20))).toMatchObject({
		compare: 21000,
		activeTicks: 21000
	});
});

test('a full reload leaves 100 % out of reach below, and in reach with leave', () => {
	const counting: Counting = { mode: 'up', rule: 'inclusive', width: 8 };
	expect(activeRange(counting, 255, 'below')).toEqual({ least: 0, most: 255 });
	expect(activeRange(counting, 255, 'leave')).toEqual({ least: 1, most: 256 });
	expect(activeRange(counting, 0, 'below')).toBeNull();
});

test('a compare that does not fit is refused', () => {
	expect(() => activeTicks({ mode: 'up', rule: 'inclusive', width: 8 }, 99, 'below', 256)).toThrow(RangeError);
});
