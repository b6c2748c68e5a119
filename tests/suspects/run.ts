import { MISTAKES } from '../../src/core/suspects/index.js';
import { tryDamage, tryMistakes, tryRight, type Trial } from './trials.js';

/**
 * `npm run suspects [SEED] [CASES] [RIGHT] [EACH]`: how often the truth is named (timers.md 15), of so many cases, right plans and cases of each mistake, and
 * what was missed.
 */
const [seed, count] = [Number(process.argv[2] ?? 1), Number(process.argv[3] ?? 300)];
const [rightPlans, each] = [Number(process.argv[4] ?? count), Number(process.argv[5] ?? 0)];

const share = (n: number, of: number) => `${((100 * n) / Math.max(1, of)).toFixed(1)} %`;
const missed: Trial['missed'] = [];
function told(name: string, trial: Trial, near: string): void {
	const times = [...trial.took].sort((a, b) => a - b);
	const took = times.length > 0 ? `, ${times[times.length >> 1].toFixed(0)} ms in the middle, ${times.at(-1)!.toFixed(0)} at worst` : '';
	console.log(`${name}: ${trial.all}, first ${share(trial.first, trial.all)}, ${near} ${share(trial.near, trial.all)}${took}`);
	missed.push(...trial.missed);
}

console.log(`seed ${seed}`);
const right = tryRight(seed, rightPlans);
console.log(`right plans: ${right.all}, false alarms ${share(right.all - right.first, right.all)}`);
missed.push(...right.missed);
told('one mistake', tryMistakes(seed, count, 1), 'among three');
told('two mistakes', tryMistakes(seed, Math.ceil(count / 3), 2), 'among five');
told('damage', tryDamage(seed, Math.ceil(count / 2)), 'told or tied');
if (each > 0) for (const code of new Set(MISTAKES.map((one) => one.code))) told(code, tryMistakes(seed, each, 1, code), 'among three');
for (const [own, what, named] of missed.slice(0, 60)) console.log(`missed ${own}: ${what}, named ${named.slice(0, 100)}`);
