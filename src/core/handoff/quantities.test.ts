import { describe, expect, test } from 'vitest';
import { Hardware } from '../../../tests/unit/hardware.js';
import { DEMO } from '../../../tests/unit/demoPlans.js';
import { Dice, randomPlan } from '../../../tests/unit/randomPlans.js';
import { AIM_KINDS } from '../aims/index.js';
import { shippedParts } from '../part/index.js';
import { derivePlan, fernhollow, fernhollowLamp, type Plan } from '../plan/index.js';
import { proposeBinding, readBack, readBinding, setUp } from '../registers/index.js';
import { Rational } from '../exact/index.js';
import { planSystem, planTimers } from '../predict/index.js';
import { Predictor, type SimSystem } from '../sim/index.js';
import { codesOf, quantitiesOf, systemAsRead } from './index.js';

/** Sets a plan up on hardware that obeys its part's registers, and reads it back: the two side by side, and what was found. */
function roundTrip(plan: Plan) {
	const { binding } = readBinding(plan.part.binding);
	const quantities = quantitiesOf(derivePlan(plan));
	const codes = codesOf(plan.part);
	const { accesses, findings } = setUp(binding!, quantities, { codes });
	const hardware = new Hardware(binding!);
	hardware.do(accesses);
	const back = readBack(binding!, hardware.memory(), codes);
	const differing = [...quantities].flatMap(([unit, own]) =>
		[...own].flatMap(([quantity, value]) => {
			const read = back.quantities.get(unit)?.get(quantity);
			return quantity.startsWith('flag:') || String(read) === String(value) ? [] : [[`${unit}.${quantity}`, value, read]];
		})
	);
	return { accesses, findings, differing, back };
}

/** What the pins do, and when timers update, from 0 on: the first edges of each. */
function edgesOf(system: SimSystem): [string, number, number[]][] {
	const predictor = new Predictor(system, Rational.one);
	predictor.runTo(2 ** 40, 3000);
	const { outputs, timers } = predictor.prediction();
	const all = [...outputs, ...[...timers].map(([id, { updates }]) => [`${id} updates`, updates] as const)];
	return all.map(([name, trace]) => [name, trace.initial, Array.from({ length: Math.min(200, trace.count) }, (_, i) => trace.edgeTime(i))]);
}

/** The plan's waves, and those of a system that was set from the registers. */
function waves(plan: Plan) {
	const derivation = derivePlan(plan);
	const { system } = planSystem(derivation);
	const read = systemAsRead(system, roundTrip(plan).back, plan.part, derivation.clocks);
	return { planned: edgesOf(system), read: edgesOf(read) };
}

describe('registers of the shipped parts', () => {
	const LAYOUTS = {
		'heron-32': { bits: 32, base: 0x40000000, apart: 0x400 },
		'plover-16': { bits: 16, base: 0x4000, apart: 0x80 },
		'sprat-8': { bits: 8, base: 0x20, apart: 0x30 }
	} as const;
	test.each(shippedParts().map((part) => [part.id, part] as const))(
		'of %s are sound, and as they are written (npm run registers renews them)',
		(id, part) => {
			expect(readBinding(part.binding).findings).toEqual([]);
			expect(part.binding).toEqual(JSON.parse(JSON.stringify(proposeBinding(part, LAYOUTS[id as keyof typeof LAYOUTS]))));
		}
	);
});

describe('what a plan wants of its registers', () => {
	test.each(DEMO)('%s is set up without a finding, and read back as it was planned', (_, plan) => {
		const { accesses, findings, differing } = roundTrip(plan);
		expect([findings, differing]).toEqual([[], []]);
		expect(accesses.length).toBeGreaterThan(10);
	});

	test.each(DEMO)('%s: the simulator, set from the registers, draws the same waves', (_, plan) => {
		const { planned, read } = waves(plan);
		expect(read).toEqual(planned);
		expect(planned.flatMap(([, , edges]) => edges).length).toBeGreaterThan(0);
	});

	test('an output that is not enabled is not driven; the others of its timer are', () => {
		const whole = fernhollow();
		const drives = (...ids: string[]) => {
			const aims = whole.aims.map((aim) => (ids.includes(aim.id) ? { ...aim, enable: 'off' as const } : aim));
			const own = quantitiesOf(derivePlan({ ...whole, aims })).get('timer-a')!;
			return ['drive:ch1', 'drive:ch1:n', 'drive:ch4', 'outputs'].map((name) => own.get(name));
		};
		expect(drives()).toEqual([1, 1, 1, 1]);
		expect(drives('dome-motor')).toEqual([0, 0, 1, 1]);
		expect(drives('focus-coil')).toEqual([1, 1, 0, 1]);
		expect(drives('dome-motor', 'focus-coil')).toEqual([0, 0, 0, 0]);
	});

	test('what a dump lacks, or says without a meaning, stays as planned', () => {
		const plan = fernhollowLamp();
		const derivation = derivePlan(plan);
		const { system } = planSystem(derivation);
		const { back } = roundTrip(plan);
		for (const own of back.quantities.values())
			for (const name of [...own.keys()]) {
				if (name.startsWith('prescale')) own.delete(name);
				if (name.startsWith('output:')) own.set(name, 99);
			}
		expect(edgesOf(systemAsRead(system, back, plan.part, derivation.clocks))).toEqual(edgesOf(system));
	});

	test('and other waves from other registers', () => {
		const plan = fernhollow();
		const derivation = derivePlan(plan);
		const { system } = planSystem(derivation);
		const { back } = roundTrip(plan);
		back.quantities.get('timer-d')!.set('reload', 60_000);
		const other = edgesOf(systemAsRead(system, back, plan.part, derivation.clocks));
		const changed = edgesOf(system).filter(
			([output, , edges], i) => JSON.stringify(edges) !== JSON.stringify(other[i][2]) && output.startsWith('timer-d')
		);
		expect(changed.map(([name]) => name)).toEqual(['timer-d.ch1', 'timer-d updates']);
	});

	test('a follower is ready before its leader runs', () => {
		const { accesses } = roundTrip(fernhollow());
		const at = (unit: string) => accesses.findLastIndex((one) => one.for.includes(`${unit}.run`) && one.step === 'run');
		expect([at('timer-h') < at('timer-d'), at('timer-c') < at('timer-d'), at('timer-h') > 0]).toEqual([true, true, true]);
	});

	test('plans of all kinds and parts come back as they were planned (seed 5)', { timeout: 60_000 }, () => {
		const rolls = (seed: number) => Array.from({ length: 160 }, (_, i) => (seed * 7919 * (i + 3) ** 3 + 17 * i) % 9973);
		let compared = 0;
		for (const part of shippedParts())
			for (const kind of AIM_KINDS)
				for (let seed = 1; seed <= 3; seed++) {
					const plan = randomPlan(new Dice(rolls(5 * seed)), part, ['pwm', kind]);
					const { findings, differing, accesses } = roundTrip(plan);
					expect([part.id, kind, seed, findings, differing]).toEqual([part.id, kind, seed, [], []]);
					compared += accesses.length;
					if (seed === 1) expect([part.id, kind, waves(plan).read]).toEqual([part.id, kind, waves(plan).planned]);
				}
		expect(compared).toBeGreaterThan(1000);
	});
});

test('the timers are the same whatever comes in from outside (seed 11)', { timeout: 60_000 }, () => {
	const rolls = (seed: number) => Array.from({ length: 200 }, (_, i) => (seed * 7919 * (i + 3) ** 3 + 31 * i) % 9973);
	const random = shippedParts().flatMap((part, p) =>
		AIM_KINDS.map((kind, k) => randomPlan(new Dice(rolls(11 + 40 * p + k)), part, ['pwm', kind]))
	);
	for (const plan of [...DEMO.map(([, demo]) => demo), ...random]) {
		const derivation = derivePlan(plan);
		expect(planTimers(derivation).timers).toEqual(planSystem(derivation).system.timers);
	}
});
