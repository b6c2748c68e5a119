import { afterEach, describe, expect, test } from 'vitest';
import { Expected } from '../../../../tests/handoff/calls.js';
import { Compiled } from '../../../../tests/handoff/harness.js';
import { DEMO } from '../../../../tests/unit/demoPlans.js';
import { Small } from '../../../../tests/handoff/small.js';
import { Dice, randomPlan } from '../../../../tests/unit/randomPlans.js';
import { codeWords } from '../../../lib/text/index.js';
import { AIM_KINDS, turnedAt } from '../../aims/index.js';
import { Rational } from '../../exact/index.js';
import { shippedParts } from '../../part/index.js';
import { derivePlan, fernhollow, fernhollowLamp, type Plan } from '../../plan/index.js';
import { change } from '../../registers/index.js';
import { codeOf, handOff, PLAIN_STYLE, readStyle, type HandOff } from '../index.js';
import { rowsOf, runtimeOf } from './files.js';

let compiled: Compiled | undefined;
afterEach(() => {
	compiled?.close();
	compiled = undefined;
});

/** What comes before anything runs, and what lets it run. */
const first = ({ accesses, begins }: HandOff) => accesses.slice(0, begins);
const second = ({ accesses, begins }: HandOff) => accesses.slice(begins);

describe('generated code', () => {
	test.each(DEMO)('of %s does just the planned accesses, without a warning', { timeout: 60_000 }, (_, plan) => {
		const of = handOff(derivePlan(plan));
		const files = codeOf(of, PLAIN_STYLE, codeWords(plan, 'test'));
		compiled = new Compiled({ files, accesses: of.accesses, calls: ['plan_set_up()', 'plan_start()', 'plan_stop()'] });
		const [setUp, start, stop] = compiled.run([
			[0, 0],
			[1, 0],
			[2, 0]
		]);
		const memory = new Expected();
		expect(setUp).toEqual({ log: memory.log(first(of)), returned: 0 });
		expect(start).toEqual({ log: memory.log(second(of)), returned: 0 });
		const off = new Map(
			[...of.quantities.keys()]
				.filter((unit) => of.binding!.units.get(unit)!.values.has('run'))
				.map((unit) => [unit, new Map([['run', 0]])])
		);
		expect(stop.log).toEqual(memory.log(change(of.binding!, off, of.quantities, { codes: of.codes }).accesses));
	});

	test('keeps the order of a part that goes on after it has let something run', { timeout: 60_000 }, () => {
		const demo = fernhollowLamp();
		const units = demo.part.binding!.units as Record<string, object>;
		const order = ['tree', 'pins', 'stop', 'prescale', 'mode', 'reload', 'compares', 'outputs', 'run', 'flags'];
		const binding = { ...demo.part.binding, units: { ...units, 'timer-1': { ...units['timer-1'], order } } };
		const plan = { ...demo, part: { ...demo.part, binding } } as Plan;
		const of = handOff(derivePlan(plan));
		expect([of.findings, second(of).map(({ step }) => step)]).toEqual([[], ['run', 'run', 'flags']]);
		compiled = new Compiled({
			files: codeOf(of, PLAIN_STYLE, codeWords(plan, 'test')),
			accesses: of.accesses,
			calls: ['plan_set_up()', 'plan_start()']
		});
		const called = compiled.run([
			[0, 0],
			[1, 0]
		]);
		expect(called.flatMap(({ log }) => log)).toEqual(new Expected().log(of.accesses));
	});

	test('rounds a wish as the plan does, for whatever can be wished (seed 9)', { timeout: 60_000 }, () => {
		const plan = fernhollow();
		const of = handOff(derivePlan(plan));
		const files = codeOf(of, PLAIN_STYLE, codeWords(plan, 'test'));
		const functions = runtimeOf(of, PLAIN_STYLE, codeWords(plan, 'test'));
		expect(functions.length).toBeGreaterThan(8);
		compiled = new Compiled({ files, accesses: of.accesses, calls: ['plan_set_up()', ...functions.map(({ name }) => `${name}(wish)`)] });
		let seed = 9;
		const roll = () => (seed = (seed * 48_271) % 2_147_483_647);
		const calls = functions.flatMap(({ least, most }, k) =>
			[
				...[least, most, least - 1n, most + 1n],
				...Array.from({ length: 400 }, () => least + (BigInt(roll()) * (most - least + 1n)) / 2_147_483_647n)
			].flatMap((wish): [number, number][] => (wish >= 0n && wish < 2n ** 32n ? [[k + 1, Number(wish)]] : []))
		);
		const told = compiled.run([[0, 0], ...calls]);
		const memory = new Expected();
		memory.log(first(of));
		const changed = of.change!;
		calls.forEach(([which, wish], i) => {
			const { turned, parts, least, most, unit, quantity, name } = functions[which - 1];
			const inside = BigInt(wish) >= least && BigInt(wish) <= most;
			const value = inside ? turnedAt(turned, Rational.of(BigInt(wish), parts))?.value : undefined;
			const log = value === undefined ? [] : memory.log(changed(new Map([[unit, new Map([[quantity, value]])]])).accesses);
			expect([name, wish, told[i + 1]]).toEqual([name, wish, { log, returned: value === undefined ? -1 : 0 }]);
		});
	});

	test('does the same on a core with an int of 16 bits, run there instruction by instruction (seed 9)', { timeout: 60_000 }, () => {
		const plan = fernhollowLamp();
		const of = handOff(derivePlan(plan));
		const words = codeWords(plan, 'test');
		const functions = runtimeOf(of, PLAIN_STYLE, words);
		const files = codeOf(of, PLAIN_STYLE, words);
		const calls = ['plan_set_up()', 'plan_start()', ...functions.map(({ name }) => `${name}(wish)`), 'plan_stop()'];
		let seed = 9;
		const roll = () => (seed = (seed * 48_271) % 2_147_483_647);
		const asked = functions.flatMap(({ least, most }, k) =>
			[least, most, most + 1n, ...Array.from({ length: 12 }, () => least + (BigInt(roll()) * (most - least + 1n)) / 2_147_483_647n)].map(
				(wish): [number, number] => [k + 2, Number(wish)]
			)
		);
		const all: [number, number][] = [[0, 0], [1, 0], ...asked, [calls.length - 1, 0]];
		compiled = new Compiled({ files, accesses: of.accesses, calls });
		const here = compiled.run(all);
		expect(here[0].log).toEqual(new Expected().log(first(of)));
		const small = new Small({ files, accesses: of.accesses, calls });
		try {
			expect(small.run(all)).toEqual(here);
		} finally {
			small.close();
		}
	});

	test('writes the rows of a shape by number, and one after the other', { timeout: 60_000 }, () => {
		const plan = fernhollow();
		const of = handOff(derivePlan(plan));
		const words = codeWords(plan, 'test');
		const [table, ...others] = rowsOf(of, PLAIN_STYLE, words);
		expect([others, table.row.name, table.quantities.length]).toEqual([[], 'plan_focus_coil_write_row', table.rows[0].length]);
		const count = table.rows.length;
		const calls = ['plan_set_up()', `${table.row.name}(wish)`, `${table.next.name}()`];
		compiled = new Compiled({ files: codeOf(of, PLAIN_STYLE, words), accesses: of.accesses, calls });
		const numbers = [0, 1, count - 1, count, 2 ** 32 - 1];
		const turns = Array.from({ length: count + 2 }, (_, i) => i % count);
		const told = compiled.run([
			[0, 0],
			...numbers.map((number): [number, number] => [1, number]),
			...turns.map((): [number, number] => [2, 0])
		]);
		const memory = new Expected();
		memory.log(first(of));
		const changed = of.change!;
		// What the simulated system is fed with, row by row: the columns in their order.
		const fed = of.system.timers.find(({ id }) => id === table.unit)!.sequences![0].rows;
		const expected = [...numbers, ...turns].map((number) => {
			if (number >= count) return { log: [], returned: -1 };
			const { compare, reload, prescale } = fed[number];
			const value = (name: string) =>
				name === 'reload' ? reload! : name === 'prescale' ? prescale! : compare[name.slice('compare:'.length)];
			const log = table.quantities.flatMap((name) => memory.log(changed(new Map([[table.unit, new Map([[name, value(name)]])]])).accesses));
			return { log, returned: 0 };
		});
		expect(told.slice(1)).toEqual(expected);
	});

	test('is the same for the same plan, in whatever style; no text of a plan can leave its comment', () => {
		const plan = { ...fernhollowLamp(), name: 'evil */ int x; /* \n#error' };
		const evil = { ...plan, aims: plan.aims.map((aim) => ({ ...aim, name: 'while */ 7' })) };
		const of = handOff(derivePlan(evil));
		const { style } = readStyle({ prefix: 'dome2', case: 'camel', indent: 3, braces: 'next-line' }) as { style: typeof PLAIN_STYLE };
		const files = codeOf(of, style, codeWords(evil, 'test'));
		expect(codeOf(handOff(derivePlan(evil)), style, codeWords(evil, 'test'))).toEqual(files);
		expect([...files.keys()]).toEqual(['dome2.h', 'dome2.c', 'dome2_values.inc']);
		compiled = new Compiled({ files, accesses: of.accesses, calls: ['dome2SetUp()'] });
		expect(readStyle({ indent: 99 })).toEqual({ problem: 'indent' });
	});

	test('of plans of all kinds and parts compiles and does what is planned (seed 4)', { timeout: 120_000 }, () => {
		const rolls = (seed: number) => Array.from({ length: 160 }, (_, i) => (seed * 7919 * (i + 3) ** 3 + 29 * i) % 9973);
		shippedParts().forEach((part, p) =>
			AIM_KINDS.forEach((kind, k) => {
				// Every part meets every fourth kind, and every kind a part.
				if (k % 3 !== p) return;
				const plan = randomPlan(new Dice(rolls(4 + k)), part, ['pwm', kind]);
				const of = handOff(derivePlan(plan));
				const one = new Compiled({
					files: codeOf(of, PLAIN_STYLE, codeWords(plan, 'test')),
					accesses: of.accesses,
					calls: ['plan_set_up()']
				});
				const [{ log }] = one.run([[0, 0]]);
				one.close();
				expect([part.id, kind, log]).toEqual([part.id, kind, new Expected().log(first(of))]);
			})
		);
	});
});
