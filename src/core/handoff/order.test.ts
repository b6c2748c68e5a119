import { expect, test } from 'vitest';
import { derivePlan, fernhollow, fernhollowLamp, type Plan } from '../plan/index.js';
import { handOff, movedStep, orderFindings, stepGroups } from './index.js';

const withBinding = (plan: Plan, binding: unknown): Plan => ({ ...plan, part: { ...plan.part, binding } }) as Plan;
const of = (plan: Plan) => handOff(derivePlan(plan));
const stepsOf = (plan: Plan, unit: string) => stepGroups(of(plan).accesses).flatMap((one) => (one.unit === unit ? [one.step] : []));

test('nothing is said of the usual order; a step that comes too early is told with what it is before', () => {
	const plan = fernhollowLamp();
	expect(orderFindings(of(plan))).toEqual([]);
	const units = plan.part.binding!.units as Record<string, object>;
	const told = (order: string[]) =>
		orderFindings(of(withBinding(plan, { ...plan.part.binding, units: { ...units, 'timer-1': { ...units['timer-1'], order } } }))).map(
			({ code, step, before }) => `${code} ${step} ${before}`
		);
	expect(told(['tree', 'gate', 'stop', 'zero', 'run', 'mode', 'prescale', 'reload', 'compares', 'outputs', 'flags'])).toEqual([
		'runs-early run mode',
		'runs-early run reload',
		'runs-early run compares',
		'runs-early run outputs',
		'flags-late run flags'
	]);
	expect(told(['mode', 'stop', 'zero', 'prescale', 'reload', 'compares', 'outputs', 'flags', 'run'])).toEqual(['stop-late stop mode']);
});

test('pins that rest high are low from the switch-over until that is said; moved after all is set up, nothing is told', () => {
	const demo = fernhollow();
	const raw = demo.part.binding as Record<string, unknown>;
	const low = { ...demo, aims: demo.aims.map((aim) => (aim.id === 'heater-a' ? { ...aim, polarity: 'low' } : aim)) } as Plan;
	const [finding, ...others] = orderFindings(of(low));
	expect(others).toEqual([]);
	expect(finding).toMatchObject({ code: 'pins-early', unit: 'pins' });
	expect(finding.of).toHaveLength(1);
	const moved = withBinding(low, movedStep(of(low), raw, 'pins', 'pins', 1)!);
	expect(orderFindings(of(moved))).toEqual([]);
	const steps = stepGroups(of(moved).accesses);
	expect(steps.findIndex(({ unit }) => unit === 'pins')).toBeGreaterThan(steps.map(({ step }) => step).lastIndexOf('outputs'));
	expect(steps.findIndex(({ unit }) => unit === 'pins')).toBeLessThan(steps.findIndex(({ step }) => step === 'run'));
	// Back, and no further than it was.
	const back = movedStep(of(moved), moved.part.binding as Record<string, unknown>, 'pins', 'pins', -1)!;
	expect(stepsOf(withBinding(low, back), 'pins')).toEqual(['pins']);
	expect(of(withBinding(low, back)).accesses).toEqual(of(low).accesses);
	expect(movedStep(of(low), raw, 'pins', 'pins', -1)).toBeUndefined();
});

test('a complementary pin is judged by its own end', () => {
	const made = of(fernhollow());
	const pin = [...made.quantities.get('pins')!].find(([, value]) => value === 'timer-a.ch1.n')![0].slice('pin:'.length);
	const own = new Map([...made.quantities.get('timer-a')!, ['polarity:ch1:n', 'low']]);
	const low = { ...made, quantities: new Map([...made.quantities, ['timer-a', own]]) };
	expect(orderFindings(low).map(({ code, of: told }) => [code, told])).toEqual([['pins-early', [pin]]]);
});

test('a moved step goes before its neighbour; units that are like its unit keep their order', () => {
	const plan = fernhollow();
	const raw = plan.part.binding as Record<string, unknown>;
	const before = stepsOf(plan, 'timer-c');
	const moved = withBinding(plan, movedStep(of(plan), raw, 'timer-c', 'reload', -1)!);
	const after = stepsOf(moved, 'timer-c');
	expect(after.indexOf('reload')).toBe(before.indexOf('reload') - 1);
	expect([...after].sort()).toEqual([...before].sort());
	for (const { id } of plan.part.timers) if (id !== 'timer-c') expect([id, stepsOf(moved, id)]).toEqual([id, stepsOf(plan, id)]);
});
