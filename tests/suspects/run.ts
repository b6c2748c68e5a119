import { findMistakes, sceneOf } from '../../src/core/suspects/index.js';
import { makeCase } from './cases.js';

/** `npm run suspects [SEED] [CASES]`: how often the true mistake is named (timers.md 15). */
const [seed, count] = [Number(process.argv[2] ?? 1), Number(process.argv[3] ?? 200)];
const verbose = process.argv.includes('-v');

const misses = new Map<string, number[]>();
function trial(mistakes: number): { first: number; three: number; all: number; took: number[] } {
	let [first, three, all] = [0, 0, 0];
	const took: number[] = [];
	for (let i = 0; all < count && i < 20 * count; i++) {
		const made = makeCase(seed * 1_000_003 + i + mistakes * 7_000_000, mistakes);
		if (!made) continue;
		const began = performance.now();
		const scene = sceneOf(made.plan, made.witnesses);
		const found = findMistakes(scene);
		took.push(performance.now() - began);
		if (mistakes === 0) {
			all++;
			if (found.explained) first++;
			else {
				(misses.get('false alarm') ?? misses.set('false alarm', []).get('false alarm')!).push(made.seed);
				if (verbose)
					console.log(
						made.seed,
						JSON.stringify(found.base.flatMap(({ all, residuals }) => all.map((one, k) => [one.of, residuals[k].toFixed(2)])))
					);
			}
			continue;
		}
		if (found.explained) continue;
		// What one mistake explains, no recording tells from two.
		if (mistakes === 2 && found.suspects[0]?.explains && found.suspects[0].codes.length === 1) continue;
		all++;
		const key = made.codes.join(' ');
		const named = found.suspects.map(({ codes, ties }) => [codes.join(' '), ...ties.map((one) => one.codes.join(' '))]);
		const rank = named.findIndex((codes) => codes.includes(key));
		if (rank === 0) first++;
		if (rank >= 0 && rank < (mistakes === 1 ? 3 : 5)) three++;
		if (rank !== 0) {
			(misses.get(key) ?? misses.set(key, []).get(key)!).push(made.seed);
			if (verbose)
				console.log(
					made.seed,
					key,
					'->',
					named
						.map((codes) => codes.slice(0, 3).join('|'))
						.slice(0, 3)
						.join(' ; ')
				);
		}
	}
	return { first, three, all, took };
}

const right = process.argv.includes('-2') ? { first: 0, three: 0, all: 0, took: [] } : trial(0);
const one = trial(1);
const two = trial(2);
const share = (n: number, of: number) => `${((100 * n) / Math.max(1, of)).toFixed(1)} %`;
console.log(`right plans: ${right.all}, false alarms ${share(right.all - right.first, right.all)}`);
console.log(`one mistake: ${one.all}, first ${share(one.first, one.all)}, among three ${share(one.three, one.all)}`);
console.log(`two mistakes: ${two.all}, first ${share(two.first, two.all)}, among five ${share(two.three, two.all)}`);
const sorted = [...one.took].sort((a, b) => a - b);
console.log(`ms: middle ${sorted[sorted.length >> 1]?.toFixed(0)}, worst ${sorted.at(-1)?.toFixed(0)}`);
for (const [key, seeds] of [...misses].sort((a, b) => b[1].length - a[1].length).slice(0, 30))
	console.log(seeds.length, key, seeds.slice(0, 4).join(' '));
