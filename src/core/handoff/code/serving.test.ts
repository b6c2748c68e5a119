import { afterEach, expect, test } from 'vitest';
import { Compiled } from '../../../../tests/handoff/harness.js';
import { codeWords } from '../../../lib/text/index.js';
import { figureOf, freshAim } from '../../aims/index.js';
import { Rational } from '../../exact/index.js';
import { derivePlan, fernhollow, fernhollowHand, fernhollowVane, type Plan } from '../../plan/index.js';
import { readQuantityOf } from '../../registers/index.js';
import { codeOf, handOff, PLAIN_STYLE } from '../index.js';
import { rowsOf, servingFor } from './files.js';

let compiled: Compiled | undefined;
afterEach(() => {
	compiled?.close();
	compiled = undefined;
});

/** A plan's code with what a test calls: C expressions, and registers by quantity that it pokes `wish` into. */
function ready(plan: Plan, pokes: readonly string[], calls: readonly string[]) {
	const of = handOff(derivePlan(plan));
	const words = codeWords(plan, 'test');
	const clears = pokes.filter((name) => name.includes('.flag:')).map((name) => readQuantityOf(of.binding!, name).accesses[0].address);
	const poked = pokes.map((name) => {
		const [{ address, bits }] = readQuantityOf(of.binding!, name).accesses;
		return `(*(volatile uint${bits}_t *)(uintptr_t)(0x${address.toString(16)}UL + NV_SHIFT) = (uint${bits}_t)wish, 0)`;
	});
	compiled = new Compiled({ files: codeOf(of, PLAIN_STYLE, words), accesses: of.accesses, calls: [...poked, ...calls], clears });
	return { of, serving: servingFor(of, PLAIN_STYLE, words, rowsOf(of, PLAIN_STYLE, words)) };
}

const told = (call: string) => `({ uint32_t out = 0; int how = ${call}(&out); how < 0 ? how : (int)out; })`;

function withAim(plan: Plan, id: string, change: Partial<Record<string, string>>): Plan {
	return { ...plan, aims: plan.aims.map((aim) => (aim.id === id ? { ...aim, ...change } : aim)) };
}

let seed = 1;
const roll = (most: number) => {
	seed = (seed * 48_271) % 2_147_483_647;
	return seed % most;
};

/** Edges at moments of a counter of 16 bits, each served a while later; what is read after each. */
function captures(counted: boolean) {
	const plan = withAim(fernhollow(), 'wind', { overflows: counted ? 'counted' : 'not-counted' });
	const bodies = ['plan_timer_f_on_capture_ch1()', counted ? 'plan_timer_f_on_update()' : '0'];
	const made = ready(plan, ['timer-f.compare:ch1', 'timer-f.count', 'timer-f.flag:update'], [...bodies, told('plan_wind_cups_read_rate')]);
	const round = 2 ** 16;
	// Flags of both events are in one register: bit 0 the wrap, bit 3 the capture.
	const flags = made.of.binding!.units.get('timer-f')!.values;
	const bit = (name: string) => 2 ** flags.get(name)!.pieces[0].low;
	const steps: [number, number][] = [];
	const spans: number[] = [];
	let [edge, laps, served] = [roll(round), 0, 0];
	for (let k = 0; k < 400; k++) {
		const before = edge;
		// An edge comes after the one before was served; where wraps are not counted, within a lap of it.
		edge = Math.max(served, edge + 40 + roll(counted ? 3 * round : round / 2));
		served = edge + roll(counted ? 30_000 : 100);
		const wraps = Math.floor(served / round);
		// The last wrap may still wait when the capture is served, if it was just now.
		const waits = counted && wraps > laps && served % round < round / 2 && roll(2) === 1;
		for (; laps < wraps - (waits ? 1 : 0); laps++) steps.push([2, bit('flag:update')], [4, 0]);
		steps.push([0, edge % round], [1, served % round], [2, bit('flag:capture:ch1') + (waits ? bit('flag:update') : 0)], [3, 0], [5, 0]);
		if (k > 0) spans.push(edge - before);
	}
	return { ...made, steps, spans };
}

test.each([true, false])('a rate is what lies between two captures, wraps counted: %s', { timeout: 60_000 }, (counted) => {
	const { of, serving, steps, spans } = captures(counted);
	expect(serving.bodies.map(({ name }) => name)).toEqual(
		expect.arrayContaining(['plan_timer_f_on_capture_ch1', ...(counted ? ['plan_timer_f_on_update'] : [])])
	);
	const rates = compiled!.run(steps).flatMap(({ returned }, i) => (steps[i][0] === 5 ? [returned] : []));
	const tick = figureOf(
		of.derivation.aims.find(({ aim }) => aim.id === 'wind')!,
		'tick'
	)!;
	const expected = spans.map((ticks) =>
		Number(
			Rational.int(1000)
				.div(tick.mul(Rational.int(ticks)))
				.roundHalfUp()
		)
	);
	expect(rates).toEqual([-1, ...expected]);
});

test.each(['high', 'low'] as const)(
	'a %s pulse is taken from the edge that begins it to the one that ends it',
	{ timeout: 60_000 },
	(level) => {
		const demo = fernhollow();
		const width = freshAim('width', 'wind', 'wind cups', 'timer-f', {
			channel: 'ch1',
			level,
			shortest: '1 ms',
			longest: '40 ms',
			step: '1 %',
			overflows: 'not-counted'
		});
		const plan = { ...demo, aims: demo.aims.map((aim) => (aim.id === 'wind' ? width : aim)) };
		const { of } = ready(
			plan,
			['timer-f.compare:ch1', 'timer-f.flag:update'],
			['plan_timer_f_on_capture_ch1(wish)', told('plan_wind_cups_read_width'), '({ uint32_t out; plan_wind_cups_read_width(&out); })']
		);
		const bit = 2 ** of.binding!.units.get('timer-f')!.values.get('flag:capture:ch1')!.pieces[0].low;
		const begins = level === 'high' ? 1 : 0;
		const tick = figureOf(
			of.derivation.aims.find(({ aim }) => aim.id === 'wind')!,
			'tick'
		)!;
		const steps: [number, number][] = [];
		const expected: number[] = [];
		let now = 0;
		for (let k = 0; k < 300; k++) {
			now += 1 + roll(30_000);
			steps.push([0, now % 65_536], [1, bit], [2, begins]);
			const wide = 1 + roll(30_000);
			now += wide;
			steps.push([0, now % 65_536], [1, bit], [2, 1 - begins], [3, 0], [4, 0]);
			const seconds = tick.mul(Rational.int(wide));
			const accepted = seconds.compare(Rational.ratio(1, 1000)) >= 0 && seconds.compare(Rational.ratio(40, 1000)) <= 0;
			expected.push(Number(seconds.mul(Rational.int(1_000_000_000)).roundHalfUp()), accepted ? 0 : 1);
		}
		const read = compiled!.run(steps).flatMap(({ returned }, i) => (steps[i][0] >= 3 ? [returned] : []));
		expect(read).toEqual(expected);
	}
);

test('a position that is held at its ends is what the counts since come to', { timeout: 60_000 }, () => {
	const { of } = ready(fernhollowHand(), ['timer-b.count'], ['(int)plan_lamp_knob_position()']);
	const last = Number(of.quantities.get('timer-b')!.get('reload'));
	const turns = Array.from({ length: 400 }, () => roll(last - 1) - (last >> 1) + 1);
	let [count, place] = [0, 0];
	const places = turns.map((by) => {
		count = (count + by + last + 1) % (last + 1);
		place = Math.min(last, Math.max(0, place + by));
		return { count, place };
	});
	const called = compiled!.run(
		places.flatMap((one): [number, number][] => [
			[0, one.count],
			[1, 0]
		])
	);
	expect(called.filter((_, i) => i % 2 === 1).map(({ returned }) => returned)).toEqual(places.map((one) => one.place));
});

const FLAPS = fernhollowVane();
const PARKED = {
	...FLAPS,
	aims: FLAPS.aims.map((aim) => ({ ...aim, outputs: aim.kind === 'divided' ? aim.outputs.map((one) => ({ ...one, width: '0 us' })) : [] }))
} as Plan;
test.each([
	['as planned', FLAPS],
	['that never go high', PARKED]
])(
	'each tick moves the compare on by a whole step, and outputs %s are high from the frame’s first tick on',
	{ timeout: 60_000 },
	(_, plan) => {
		const { of } = ready(plan, ['core-count.flag:match:due'], ['plan_core_count_on_match_due()', '(int)plan_vane_flaps_levels()']);
		const { run } = of.derivation.aims[0];
		const called = compiled!.run(
			Array.from({ length: 120 }, (): [number, number][] => [
				[0, 1],
				[1, 0],
				[2, 0]
			]).flat()
		);
		const levels = called.filter((_, i) => i % 3 === 2).map(({ returned }) => returned);
		expect(levels).toEqual(levels.map((_, i) => run.counted!.reduce((sum, { ticks }, k) => sum + (i + 1 < ticks ? 2 ** k : 0), 0)));
		const cells = readQuantityOf(of.binding!, 'core-count.compare:due').accesses.map(({ address }) => address.toString(16));
		const moved = called
			.filter((_, i) => i % 3 === 1)
			.map(({ log }) =>
				cells.reduce((sum, cell, k) => {
					const word = log.map((line) => line.split(' ')).find(([what, at]) => what === 'w' && at === cell)![3];
					return sum + parseInt(word, 16) * 65_536 ** (cells.length - 1 - k);
				}, 0)
			);
		expect(moved).toEqual(moved.map((_, i) => run.interval!.value * (i + 2)));
	}
);

test('edges of a gate are told as a rate, over the end of the counter too', { timeout: 60_000 }, () => {
	const plan = withAim(fernhollow(), 'wind', { method: 'gated', gate: '250 ms' });
	ready(plan, ['timer-f.count'], [told('plan_wind_cups_read_rate')]);
	const gates = Array.from({ length: 200 }, () => roll(65_000));
	let count = 0;
	const steps = gates.flatMap((edges): [number, number][] => [
		[0, (count = (count + edges) % 65_536)],
		[1, 0]
	]);
	const rates = compiled!.run(steps).flatMap(({ returned }, i) => (i % 2 === 1 ? [returned] : []));
	expect(rates).toEqual(gates.map((edges) => 4000 * edges));
});

test('ticks are counted by their own event, and by no other', { timeout: 60_000 }, () => {
	const { serving } = ready(fernhollow(), ['core-down.flag:update'], ['plan_core_down_on_update()', '(int)plan_system_tick_ticks()']);
	expect(serving.readings).toContainEqual({ name: 'plan_system_tick_ticks', aim: 'system-tick', of: 'ticks' });
	const raised = Array.from({ length: 60 }, () => roll(2));
	const called = compiled!.run(
		raised.flatMap((flag): [number, number][] => [
			[0, flag],
			[1, 0],
			[2, 0]
		])
	);
	let ticks = 0;
	expect(called.filter((_, i) => i % 3 === 2).map(({ returned }) => returned)).toEqual(raised.map((flag) => (ticks += flag)));
});

test('words of a pattern stand as a table, and what cannot be read by code alone is said', () => {
	const plan = withAim(fernhollow(), 'wind', { method: 'switched', gate: '100 ms' });
	const { serving } = ready(plan, [], []);
	expect(serving.prototypes.some((one) => /^extern const uint32_t plan_serial_strobe_words\[\d+\]\[2\];$/.test(one))).toBe(true);
	expect(serving.left.map(({ id }) => id)).toEqual(['wind']);
});
