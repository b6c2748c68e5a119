import { Rational } from '../../exact/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readRate, readTolerance, readWhole } from '../fields.js';
import type { PatternAim } from './aims.js';
import { JobBench, type JobDerivation, type Surroundings } from './job.js';
import { choosePeriod, periodLinks } from './period.js';

const BITS = 32;

/** A pattern streamed to a port, a word at each update (timers.md 9): the words, the pace, the window of the lag, and where the stream breaks. */
export function derivePattern(plan: Plan, aim: PatternAim, clocks: PlanClocks, around: Surroundings): JobDerivation {
	const bench = new JobBench(plan, aim, clocks, around);
	const { derivation } = bench;
	const rate = bench.take('rate', readRate(aim.rate));
	const tolerance = bench.take('tolerance', readTolerance(aim.tolerance, rate));
	const least = bench.cycles('least', aim.least);
	const most = bench.cycles('most', aim.most);
	const bits = aim.lines.map(({ bit }, i) => bench.take(`lines.${i}.bit`, readWhole(bit, 0)));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const mode = timer.modes.find((one) => one === 'up' || one === 'down' || one === 'updown');
	if (!mode) {
		bench.fault({ code: 'cannot-job', timer: timer.name, job: 'pattern' });
		return derivation;
	}
	if (!(timer.paced ?? []).includes('update')) bench.fault({ code: 'not-paced', timer: timer.name });
	const best = rate && choosePeriod(bench, { mode, rule: timer.rule, width: timer.width }, rate, tolerance);
	sayLines(bench, aim, bits);
	const count = Math.max(...aim.lines.map(({ levels }) => levels.length));
	derivation.words = wordsOf(aim, bits, count);
	if (!best) return derivation;
	derivation.strip = periodLinks(timer, best);
	const period = best.hz.inverse();
	bench.figure('pace', best.hz, 'Hz');
	bench.figure('error', best.ppm, 'ppm');
	bench.figure('word-time', period, 's');
	bench.figure('words', Rational.int(count), 'words');
	bench.figure('length', period.mul(Rational.int(count)), 's');
	if (count > 0) bench.figure('repeats', period.mul(Rational.int(count)).inverse(), 'Hz');
	bench.formula('pattern', { rate: best.hz, count: Rational.int(count), length: period.mul(Rational.int(count)) });
	if (least === undefined || most === undefined) return derivation;
	if (least > most) {
		bench.fault({ code: 'lags-reversed' });
		return derivation;
	}
	derivation.run.lag = bench.time(least);
	derivation.run.lagMost = bench.time(most);
	bench.figure('lag-least', bench.time(least), 's');
	bench.figure('lag-most', bench.time(most), 's');
	bench.figure('jitter', bench.time(most - least), 's');
	bench.figure('break-limit', period, 's');
	bench.figure('margin', period.sub(bench.time(most)), 's');
	if (bench.time(most).compare(period) >= 0) bench.fault({ code: 'pattern-breaks', most: bench.time(most), period });
	return derivation;
}

function sayLines(bench: JobBench, { lines }: PatternAim, bits: (number | undefined)[]): void {
	const longest = Math.max(...lines.map(({ levels }) => levels.length));
	if (longest === 0) bench.fault({ code: 'pattern-empty' });
	for (const [i, bit] of bits.entries()) {
		if (bit === undefined) continue;
		if (bit >= BITS) bench.fault({ code: 'lock-refused', link: 'bit', value: bit, limit: BITS - 1 });
		const twin = bits.indexOf(bit);
		if (twin < i) bench.fault({ code: 'bit-twice', bit, lines: `${lines[twin].name} and ${lines[i].name}` });
		const words = lines[i].levels.length;
		if (words < longest) bench.warn({ code: 'lines-uneven', line: lines[i].name, words, longest });
	}
}

/** The words: what each sets and clears. A line that ends early holds its last level; one without a level is left alone. */
function wordsOf({ lines }: PatternAim, bits: (number | undefined)[], count: number): NonNullable<JobDerivation['words']> {
	return Array.from({ length: count }, (_, k) => {
		let [set, clear] = [0, 0];
		lines.forEach(({ levels }, i) => {
			const bit = bits[i];
			if (bit === undefined || bit >= BITS || levels === '') return;
			const mask = 2 ** bit;
			if (levels[Math.min(k, levels.length - 1)] === '1') set = (set | mask) >>> 0;
			else clear = (clear | mask) >>> 0;
		});
		return { set, clear };
	});
}
