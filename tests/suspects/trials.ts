import { checkWhole, findMistakes, sceneOf } from '../../src/core/suspects/index.js';
import { DAMAGES, damaged, makeCase, type Case, type DamageCode } from './cases.js';

/** How often the truth was named: first, among the first few, of how many that the data can tell; and which were missed. */
export interface Trial {
	first: number;
	near: number;
	all: number;
	took: number[];
	missed: [seed: number, what: string, named: string][];
}

/** Cases are tried up to so many times as often as they are wanted: not every throw of the dice shows anything. */
const PATIENCE = 20;
/** Seeds of different kinds of trials lie so far apart. */
const APART = 7_000_000;

function* cases(seed: number, count: number, mistakes: number, code?: string): Generator<Case, void, 'counted' | 'passed'> {
	for (let i = 0, made = 0; made < count && i < PATIENCE * count; i++) {
		const one = makeCase(seed * 1_000_003 + i + mistakes * APART, mistakes, code);
		if (!one) continue;
		made += (yield one) === 'counted' ? 1 : 0;
	}
}

const fresh = (): Trial => ({ first: 0, near: 0, all: 0, took: [], missed: [] });

/** Right plans: `first` counts those of which nothing is suspected. */
export function tryRight(seed: number, count: number): Trial {
	const trial = fresh();
	const all = cases(seed, count, 0);
	for (let step = all.next(); !step.done; step = all.next('counted')) {
		const { plan, witnesses, seed: own } = step.value;
		trial.all++;
		const { explained, suspects } = findMistakes(sceneOf(plan, witnesses));
		if (explained) trial.first++;
		else trial.missed.push([own, 'right', suspects[0]?.codes.join(' ') ?? 'nothing']);
	}
	return trial;
}

/** One mistake, of a kind if it is said (or two): is it first, and is it among the first three (or five)? What another explains as well, no data tells. */
export function tryMistakes(seed: number, count: number, mistakes: 1 | 2, code?: string): Trial {
	const trial = fresh();
	const all = cases(seed, count, mistakes, code);
	for (let step = all.next(); !step.done;) {
		const { plan, witnesses, codes, seed: own } = step.value;
		const began = performance.now();
		const { explained, suspects } = findMistakes(sceneOf(plan, witnesses));
		const simpler = mistakes === 2 && suspects[0]?.explains && suspects[0].codes.length === 1;
		if (explained || simpler) {
			step = all.next('passed');
			continue;
		}
		trial.took.push(performance.now() - began);
		trial.all++;
		const key = codes.join(' ');
		const named = suspects.map((one) => [one, ...one.ties].map((each) => each.codes.join(' ')));
		const rank = named.findIndex((entry) => entry.includes(key));
		if (rank === 0) trial.first++;
		if (rank >= 0 && rank < (mistakes === 1 ? 3 : 5)) trial.near++;
		if (rank !== 0) trial.missed.push([own, key, named[0]?.join('|') ?? 'nothing']);
		step = all.next('counted');
	}
	return trial;
}

/** Damaged recordings of right plans: is the damage told? What the plan explains all the same is none. */
export function tryDamage(seed: number, count: number, codes: readonly DamageCode[] = DAMAGES): Trial {
	const trial = fresh();
	const all = cases(seed + 500, PATIENCE * count, 0);
	for (let step = all.next(); !step.done && trial.all < count; step = all.next('counted')) {
		const one = step.value;
		const code = codes[one.seed % codes.length];
		const witnesses = damaged(one, code);
		if (!witnesses || findMistakes(sceneOf(one.plan, witnesses)).explained) continue;
		trial.all++;
		const { damage, findings } = checkWhole(one.plan, witnesses);
		const told = damage.some((each) => each.code === code);
		const tied = findings.suspects[0] && [findings.suspects[0], ...findings.suspects[0].ties].some((each) => each.codes[0] === code);
		if (told) trial.first++;
		if (told || tied) trial.near++;
		else
			trial.missed.push([
				one.seed,
				code,
				damage.map((each) => each.code).join(' ') || (findings.suspects[0]?.codes.join(' ') ?? 'nothing')
			]);
	}
	return trial;
}
