import { codeWords } from '../../src/lib/text/index.js';
import { AIM_KINDS, turnedAt } from '../../src/core/aims/index.js';
import { Rational } from '../../src/core/exact/index.js';
import { runtimeOf } from '../../src/core/handoff/code/files.js';
import type { RuntimeFunction } from '../../src/core/handoff/code/runtime.js';
import { codeOf, handOff, PLAIN_STYLE } from '../../src/core/handoff/index.js';
import { shippedParts } from '../../src/core/part/index.js';
import { derivePlan, type Plan } from '../../src/core/plan/index.js';
import { randomFrom } from '../suspects/cases.js';
import { DEMO } from '../unit/demoPlans.js';
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

/** What runs generated code and tells what it did. */
interface Runner {
	run(calls: readonly Call[]): Called[];
	close(): void;
}

/** Set-up, start and stop: what is called first. */
const FIXED = ['plan_set_up()', 'plan_start()', 'plan_stop()'];
const BEGIN = FIXED.map((_, which): Call => [which, 0]);

/** A plan's code, its functions by number behind the fixed ones, and what each call must do. */
class Proof {
	private readonly of;
	readonly functions: RuntimeFunction[];
	readonly job: Job;

	constructor(
		private readonly name: string,
		plan: Plan
	) {
		this.of = handOff(derivePlan(plan));
		const words = codeWords(plan, 'proof');
		this.functions = runtimeOf(this.of, PLAIN_STYLE, words);
		const calls = [...FIXED, ...this.functions.map((one) => `${one.name}(wish)`)];
		this.job = { files: codeOf(this.of, PLAIN_STYLE, words), accesses: this.of.accesses, calls };
	}

	/** Runs the fixed calls and then wishes, and counts what agreed; tells the first call that did not. */
	hold(way: string, runner: Runner, some: readonly Call[]): void {
		const calls = [...BEGIN, ...some];
		const [told, planned] = [runner.run(calls), this.planned(some)];
		const at = planned.findIndex((one, i) => JSON.stringify(one) !== JSON.stringify(told[i]));
		if (at < 0) counts.set(way, (counts.get(way) ?? 0) + planned.length);
		else {
			failed++;
			console.log(
				`${way}, ${this.name}: call ${calls[at].join(' ')} did ${JSON.stringify(told[at])}, planned is ${JSON.stringify(planned[at])}`
			);
		}
	}

	private planned(some: readonly Call[]): Called[] {
		const { accesses, begins, quantities, binding, change } = this.of;
		const memory = new Expected();
		const running = [...quantities.keys()].filter((unit) => binding!.units.get(unit)!.values.has('run'));
		const off = new Map(running.map((unit) => [unit, new Map([['run', 0]])]));
		const fixed = [accesses.slice(0, begins), accesses.slice(begins), change!(off).accesses];
		const wish = ([which, number]: Call): Called => {
			const { turned, parts, least, most, unit, quantity } = this.functions[which - FIXED.length];
			const inside = BigInt(number) >= least && BigInt(number) <= most;
			const value = inside ? turnedAt(turned, Rational.of(BigInt(number), parts))?.value : undefined;
			if (value === undefined) return { log: [], returned: -1 };
			return { log: memory.log(change!(new Map([[unit, new Map([[quantity, value]])]])).accesses), returned: 0 };
		};
		return [...fixed.map((list) => ({ log: memory.log(list), returned: 0 })), ...some.map(wish)];
	}
}

/** Ends of each function's range, what lies just outside, and so many inside. */
function someOf(functions: readonly RuntimeFunction[], each: number): Call[] {
	const random = randomFrom(seed);
	const within = ({ least, most }: RuntimeFunction) =>
		Number(least + (BigInt(Math.floor(random() * 2 ** 32)) * (most - least + 1n)) / (1n << 32n));
	return functions.flatMap((one, i) => {
		const edges = [one.least, one.most, one.least - 1n, one.most + 1n].filter((edge) => edge >= 0n && edge < 1n << 32n).map(Number);
		return [...edges, ...Array.from({ length: each }, () => within(one))].map((wish): Call => [FIXED.length + i, wish]);
	});
}

/** On every core that can have it. */
function prove(name: string, plan: Plan): void {
	const proof = new Proof(name, plan);
	const held = (way: string, runner: Runner, each: number) => {
		try {
			proof.hold(way, runner, someOf(proof.functions, each));
		} finally {
			runner.close();
		}
	};
	held('this machine', new Compiled(proof.job), 200);
	for (const core of EMULATED) held(`emulated ${core}`, new Emulated(proof.job, core), 200);
	if (Small.takes(proof.job)) held('int of 16 bits', new Small(proof.job), 20);
}

/** Every wish of a small range, and so many of a large one. */
function proveWishes(name: string, plan: Plan): void {
	const proof = new Proof(name, plan);
	const compiled = new Compiled(proof.job);
	const random = randomFrom(seed);
	proof.functions.forEach(({ least, most }, i) => {
		const span = most - least + 1n;
		const all = span <= SMALL_RANGE ? Number(span) : wishes;
		for (let from = 0; from < all; from += AT_ONCE) {
			const some = Array.from({ length: Math.min(AT_ONCE, all - from) }, (_, k): Call => {
				const at = span <= SMALL_RANGE ? BigInt(from + k) : (BigInt(Math.floor(random() * 2 ** 48)) * span) >> 48n;
				return [FIXED.length + i, Number(least + at)];
			});
			proof.hold('wishes', compiled, some);
		}
	});
	compiled.close();
}

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
