import { describe, expect, test } from 'vitest';
import { checkPlan } from '../../check/index.js';
import { derivePlan, fernhollow, type Plan } from '../../plan/index.js';
import { freshStimulus, planSystem } from '../../predict/index.js';
import { freshAim, type AimOf, type Stimulus } from '../index.js';

const demo = fernhollow();
const aimOf = (change: Partial<AimOf<'capture'>>) =>
	freshAim('capture', 'c', 'c', 'timer-b', { lowest: '2 Hz', highest: '1 kHz', ...change });
const planOf = (change: Partial<AimOf<'capture'>>, stimulus?: Stimulus): Plan => ({
	...demo,
	aims: [aimOf(change)],
	stimuli: stimulus ? { c: stimulus } : {}
});
const derived = (change: Partial<AimOf<'capture'>>) => derivePlan(planOf(change)).aims[0];
const codes = (change: Partial<AimOf<'capture'>>) => checkPlan(derivePlan(planOf(change))).map(({ code }) => code);
const figure = (change: Partial<AimOf<'capture'>>, name: string) =>
	derived(change)
		.figures.find((one) => one.name === name)
		?.value.toString();

/** Readings of what comes: how often each way was used, those that are wrong, and the worst relative error. */
function read(change: Partial<AimOf<'capture'>>, stimulus?: Stimulus) {
	const planned = planSystem(derivePlan(planOf(change, stimulus)));
	const [{ readings, tickRate }] = planned.replays;
	const unit = planned.unit.toNumber();
	const off = readings.counts.map((count, i) => {
		const hz = (readings.over![i] * tickRate.toNumber()) / count;
		return Math.abs((hz * readings.truth[i] * unit) / readings.came![i] - 1);
	});
	return { wrong: readings.wrong.filter((why) => why !== ''), over: new Set(readings.over), worst: Math.max(...off), count: off.length };
}

describe('a rate by capture', () => {
	// 720 kHz: one edge a reading keeps 0.05 % up to 360 Hz, eight of them up to 2880 Hz.
	const wide = { lowest: '2 Hz', highest: '2.5 kHz', step: '0.05 %', service: '0', locks: { prescale: '100' } };
	test('is switched through counts of edges also where overflows are counted', () => {
		expect(derived({ ...wide, overflows: 'counted' }).run.switching!.ways.length).toBeGreaterThan(1);
	});
	test('is read without a mistake where the plan is met, through all of its ways', () => {
		const change = { ...wide, overflows: 'counted' as const };
		expect(codes(change)).toEqual([]);
		const found = read(change);
		expect([found.wrong, found.over.size > 2, found.count > 1000]).toEqual([[], true, true]);
		// The wished step, and as much again for a cycle of sampling at either end.
		expect(found.worst).toBeLessThan(0.001);
	});
	test('goes on by a gate above the cross-over, and comes back', () => {
		const change = {
			...wide,
			highest: '20 kHz',
			step: '0.2 %',
			overflows: 'counted' as const,
			method: 'switched' as const,
			gate: '500 ms'
		};
		const up = read(change, { kind: 'sweep', from: '1 kHz', to: '15 kHz', duty: '50 %', over: '10 s' });
		const down = read(change, { kind: 'sweep', from: '15 kHz', to: '1 kHz', duty: '50 %', over: '10 s' });
		for (const found of [up, down])
			expect([found.wrong, Math.max(...found.over) > 1000, Math.min(...found.over) <= 16]).toEqual([[], true, true]);
	});
	test('has one cross-over: that of the count of edges in use at the top', () => {
		const change = { ...wide, highest: '20 kHz', overflows: 'counted' as const, method: 'switched' as const, gate: '100 ms' };
		const { formulas, run } = derived(change);
		const most = formulas.find(({ code }) => code === 'crossover')!.numbers.every.toNumber();
		expect(most).toBe(Math.max(...run.switching!.ways.map(({ every }) => every)));
		expect(formulas.find(({ code }) => code === 'capture')!.numbers.every.toNumber()).toBe(most);
	});
	test.each([
		['200 h', '2 Hz', '1 kHz'],
		['1e30 s', '2 Hz', '1 kHz'],
		['1e-30 s', '1e-20 Hz', '1e24 Hz']
	])('a gate of %s is worked out like any other', (gate, lowest, highest) => {
		expect(codes({ method: 'switched', gate, lowest, highest })).not.toContain('derivation-failed');
	});
	test('a gate that is finer over the whole range leaves capture its lower end', () => {
		expect(figure({ method: 'switched', gate: '200 h', lowest: '100 Hz' }, 'gate-above')).toBe('100/1');
	});
});

describe('a signal that fits', () => {
	test.each([
		['slow', { lowest: '0.01 Hz', highest: '0.1 Hz' }],
		['wide', { lowest: '1 Hz', highest: '1 MHz' }],
		['fast', { lowest: '1 MHz', highest: '2 MHz' }]
	])('holds its edges, and all of them: %s', (_, change) => {
		const { inputs } = planSystem(derivePlan(planOf(change)));
		const { lines, cut } = inputs.get('c')!;
		expect([lines.input!.edges.length > 8, cut]).toEqual([true, false]);
	});
	test('goes through its decades evenly', () => {
		const stimulus = freshStimulus(aimOf({ lowest: '1 Hz', highest: '100 Hz' }));
		const { inputs, unit } = planSystem(derivePlan(planOf({ lowest: '1 Hz', highest: '100 Hz' }, stimulus)));
		const edges = inputs.get('c')!.lines.input!.edges;
		// At half of the time the rate is 10 Hz.
		const at = Array.from(edges).findIndex((time) => time * unit.toNumber() > 5);
		expect((edges[at + 2] - edges[at]) * unit.toNumber()).toBeCloseTo(0.1, 2);
	});
});
