import { codeWords } from '../../src/lib/text/index.js';
import { AIM_KINDS, turnedAt } from '../../src/core/aims/index.js';
import { Rational } from '../../src/core/exact/index.js';
import { runtimeOf } from '../../src/core/handoff/code/files.js';
import type { RuntimeFunction } from '../../src/core/handoff/code/runtime.js';
import { codeOf, handOff, PLAIN_STYLE } from '../../src/core/handoff/index.js';
import { shippedParts } from '../../src/core/part/index.js';
import { derivePlan, fernhollow, fernhollowHand, fernhollowLamp, fernhollowVane, type Plan } from '../../src/core/plan/index.js';
import { change } from '../../src/core/registers/index.js';
import { randomFrom } from '../suspects/cases.js';
import { Dice, randomPlan } from '../unit/randomPlans.js';
import { Expected, type Call, type Called, type Job } from './calls.js';
import { Emulated, EMULATED } from './emulated.js';
import { Compiled } from './harness.js';
import { Small } from './small.js';

/**
 * `npm run prove [SEED] [PLANS] [WISHES]`: the generated code of the demo plans, and of so many random ones of each kind on each
 * part, does just the planned accesses: watched on this machine, on two emulated cores of 32 bits, and on the simulated core
 * with an int of 16. Its run-time functions agree with the core for every wish of small ranges, and for so many of large ones.
 */
const [seed, plans, wishes] = [Number(process.argv[2] ?? 1), Number(process.argv[3] ?? 2), Number(process.argv[4] ?? 1_000_000)];

const SMALL_RANGE = 1n << 16n;
const AT_ONCE = 20_000;
let failed = 0;
const counts = new Map<string, number>();

/** Counts what agreed, and tells the first call that did not. */
function compare(way: string, name: string, told: readonly Called[], expected: readonly Called[], calls: readonly Call[]): void {
	const at = expected.findIndex((one, i) => JSON.stringify(one) !== JSON.stringify(told[i]));
	if (at < 0) counts.set(way, (counts.get(way) ?? 0) + expected.length);
	else {
		failed++;
		console.log(`${way}, ${name}: call ${calls[at].join(' ')} did ${JSON.stringify(told[at])}, planned is ${JSON.stringify(expected[at])}`);
	}
}

/** What set-up, start and stop, and then wishes, must do. */
function planned(of: ReturnType<typeof handOff>, functions: readonly RuntimeFunction[]) {
	const { accesses, begins } = of;
	const memory = new Expected();
	const off = new Map(
		[...of.quantities.keys()].filter((unit) => of.binding!.units.get(unit)!.values.has('run')).map((unit) => [unit, new Map([['run', 0]])])
	);
	const fixed = [
		accesses.slice(0, begins),
		accesses.slice(begins),
		change(of.binding!, off, of.quantities, { codes: of.codes }).accesses
	].map((list) => ({ log: memory.log(list), returned: 0 }));
	const changed = of.change!;
	const wish = ([which, number]: Call): Called => {
		const { turned, parts, least, most, unit, quantity } = functions[which - fixed.length];
		const inside = BigInt(number) >= least && BigInt(number) <= most;
		const value = inside ? turnedAt(turned, Rational.of(BigInt(number), parts))?.value : undefined;
		if (value === undefined) return { log: [], returned: -1 };
		return { log: memory.log(changed(new Map([[unit, new Map([[quantity, value]])]])).accesses), returned: 0 };
	};
	return { fixed, wish };
}

function prove(name: string, plan: Plan): void {
	const of = handOff(derivePlan(plan));
	if (of.binding === undefined) return;
	const words = codeWords(plan, 'proof');
	const functions = runtimeOf(of, PLAIN_STYLE, words);
	const calls = ['plan_set_up()', 'plan_start()', 'plan_stop()', ...functions.map((one) => `${one.name}(wish)`)];
	const job: Job = { files: codeOf(of, PLAIN_STYLE, words), accesses: of.accesses, calls };
	const fixed: Call[] = [0, 1, 2].map((which) => [which, 0]);
	const random = randomFrom(seed);
	const within = ({ least, most }: RuntimeFunction) =>
		Number(least + (BigInt(Math.floor(random() * 2 ** 32)) * (most - least + 1n)) / (1n << 32n));
	const some = (each: number): Call[] =>
		functions.flatMap((one, i) => [
			...[one.least, one.most, one.least - 1n, one.most + 1n].flatMap((edge): Call[] =>
				edge >= 0n && edge < 1n << 32n ? [[3 + i, Number(edge)]] : []
			),
			...Array.from({ length: each }, (): Call => [3 + i, within(one)])
		]);
	const held = (way: string, asked: readonly Call[], made: { run(calls: readonly Call[]): Called[]; close(): void }, each: number) => {
		try {
			const { fixed: expected, wish } = planned(of, functions);
			const all = [...asked, ...some(each)];
			compare(way, name, made.run(all), [...expected, ...all.slice(asked.length).map(wish)], all);
		} finally {
			made.close();
		}
	};
	held('this machine', fixed, new Compiled(job.files, job.accesses, calls), 200);
	for (const core of EMULATED) held(`emulated ${core}`, fixed, new Emulated(job, core), 200);
	if (of.accesses.every(({ bits, address }) => bits === 8 && address < 0x400)) held('int of 16 bits', fixed, new Small(job), 20);
}

/** Every wish of a small range, and so many of a large one. */
function proveWishes(name: string, plan: Plan): void {
	const of = handOff(derivePlan(plan));
	const words = codeWords(plan, 'proof');
	const functions = runtimeOf(of, PLAIN_STYLE, words);
	const calls = ['plan_set_up()', 'plan_start()', 'plan_stop()', ...functions.map((one) => `${one.name}(wish)`)];
	const compiled = new Compiled(codeOf(of, PLAIN_STYLE, words), of.accesses, calls);
	const random = randomFrom(seed);
	functions.forEach(({ least, most, name: called }, i) => {
		const span = most - least + 1n;
		const all = span <= SMALL_RANGE ? Number(span) : wishes;
		for (let from = 0; from < all; from += AT_ONCE) {
			const some = Array.from({ length: Math.min(AT_ONCE, all - from) }, (_, k): Call => {
				const at = span <= SMALL_RANGE ? BigInt(from + k) : (BigInt(Math.floor(random() * 2 ** 48)) * span) >> 48n;
				return [3 + i, Number(least + at)];
			});
			const { fixed, wish } = planned(of, functions);
			const asked: Call[] = [[0, 0], [1, 0], [2, 0], ...some];
			compare('wishes', `${name}, ${called}`, compiled.run(asked), [...fixed, ...some.map(wish)], asked);
		}
	});
	compiled.close();
}

const DEMO: [string, Plan][] = [
	['the dome', fernhollow()],
	['the vane', fernhollowVane()],
	['the lamp', fernhollowLamp()],
	['the hand controller', fernhollowHand()]
];
const began = Date.now();
const say = (text: string) => console.log(`${((Date.now() - began) / 1000).toFixed(0)} s: ${text}`);
for (const [name, plan] of DEMO) prove(name, plan);
say('demo plans');
const random = randomFrom(seed);
for (const part of shippedParts())
	for (const kind of AIM_KINDS)
		for (let k = 0; k < plans; k++) {
			const dice = new Dice(Array.from({ length: 160 }, () => Math.floor(random() * 2 ** 31)));
			prove(`${part.id}, ${kind}, ${k}`, randomPlan(dice, part, ['pwm', kind]));
		}
say('random plans');
for (const [name, plan] of DEMO) proveWishes(name, plan);
say('wishes');
for (const [way, count] of counts) console.log(`${way}: ${count} calls as planned`);
console.log(failed === 0 ? 'proved' : `${failed} runs differ`);
process.exit(failed === 0 ? 0 : 1);
