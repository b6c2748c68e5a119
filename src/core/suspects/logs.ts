import type { Relation } from '../aims/index.js';
import { swapBytes, worstOf, type Outcome } from '../check/index.js';
import type { PlanDerivation, Sweep, Instrument } from '../plan/index.js';
import { judgeSweep, sweepRelations, type JudgedSweep, type SweepRow } from '../readings/index.js';
import { MISTAKES } from './catalogue/index.js';
import type { Where } from './change.js';
import { sceneOf } from './scene.js';

/** A log held against the plan, with what would explain it. */
export interface CheckedLog {
	aim: string;
	judged: JudgedSweep;
	outcome: Outcome;
	suspects: LogSuspect[];
}

export interface LogSuspect {
	code: string;
	where: { timer: string; what: string; planned: number | string; found: number | string };
	usual: number;
	worst: number;
	explains: boolean;
}

/** Holds a log against the plan. `sweep.of` empty: the relation that fits it best. undefined where nothing of the aim can be read. */
export function checkLog(plan: PlanDerivation, sweep: Sweep, instruments: readonly Instrument[] = []): CheckedLog | undefined {
	const offered = sweepRelations(plan, sweep.aim).filter(({ id }) => sweep.of === '' || id === sweep.of);
	const judged = offered.flatMap(({ id }) => judgeSweep(plan, { ...sweep, of: id }, instruments) ?? []);
	const best = judged.sort((a, b) => farness(a) - farness(b)).at(0);
	if (!best) return undefined;
	const rows = best.rows.filter(({ planned, beyond }) => planned && !beyond);
	const outcome: Outcome = rows.length === 0 ? 'undecided' : rows.every(({ explained }) => explained) ? 'within' : 'outside';
	return {
		aim: sweep.aim,
		judged: best,
		outcome: worstOf([outcome]),
		suspects: outcome === 'outside' ? logSuspects(plan, sweep.aim, best) : []
	};
}

/** How far a log is from what a relation plans: by the middle ratio of both, and rows that it does not reach count as far. */
function farness({ rows }: JudgedSweep): number {
	const far = rows.map(({ planned, read, explained }) => {
		if (!planned) return 20;
		if (explained) return 0;
		const [a, b] = [planned[0].add(planned[1]).toNumber() / 2, read.toNumber()];
		return a > 0 && b > 0 ? Math.min(20, 0.01 + Math.abs(Math.log(b / a))) : 20;
	});
	return far.length === 0 ? Infinity : far.reduce((sum, one) => sum + one, 0) / far.length;
}

/** What a mistake makes of what would be read. */
interface LogGuess {
	code: string;
	usual: number;
	where: LogSuspect['where'];
	turn: (planned: number, row: SweepRow) => number;
}

const NEAR = 5;

function logSuspects(plan: PlanDerivation, aim: string, { relation, rows }: JudgedSweep): LogSuspect[] {
	const used = rows.filter(({ planned, beyond }) => planned && !beyond);
	const found = guessesFor(plan, aim, relation, used).map(({ code, usual, where, turn }): LogSuspect => {
		const worst = used.reduce((most, row) => Math.max(most, residualOf(row, turn)), 0);
		return { code, usual, where, worst, explains: worst <= 1 + 1e-6 };
	});
	found.sort(
		(a, b) => Number(b.explains) - Number(a.explains) || (a.explains ? a.usual - b.usual : a.worst - b.worst) || a.usual - b.usual
	);
	const explaining = found.filter((one) => one.explains);
	return [...explaining, ...found.filter((one) => !one.explains).slice(0, NEAR)];
}

function residualOf(row: SweepRow, turn: LogGuess['turn']): number {
	const [low, high] = row.planned!.map((value) => turn(value.toNumber(), row));
	const [from, to] = [Math.min(low, high), Math.max(low, high)];
	const read = row.read.toNumber();
	const room = Math.max(...row.budget!.sum.map((end) => Math.abs(end.toNumber())));
	const grown = room * Math.max(1, Math.abs(to / (row.planned![1].toNumber() || 1)));
	const off = read < from ? from - read : read > to ? read - to : 0;
	return off === 0 ? 0 : grown > 0 ? off / grown : Infinity;
}

function guessesFor(plan: PlanDerivation, aim: string, relation: Relation, rows: readonly SweepRow[]): LogGuess[] {
	const one = plan.aims.find((each) => each.aim.id === aim)!;
	const timer = one.timer?.id ?? '';
	const link = (name: string) => one.strip.find((each) => each.name === name)?.value;
	const times = (code: string, usual: number, where: Omit<LogSuspect['where'], 'timer'>, factor: number): LogGuess => ({
		code,
		usual,
		where: { timer, ...where },
		turn: (value) => value * factor
	});
	const guesses = settingGuesses(plan, aim).map(({ code, usual, where, factor }) =>
		// A faster clock reads more of a time, and less of a rate.
		times(code, usual, where, relation.stretch === 'rate' ? factor : relation.stretch === 'time' ? 1 / factor : 1)
	);
	const every = link('every');
	if (every !== undefined)
		for (const by of new Set([every, 2, 4, 8].filter((count) => count > 1)))
			for (const factor of [by, 1 / by])
				guesses.push(times('capture-divisor-kept', by === every ? 1 : 20, { what: 'every', planned: every, found: by }, factor));
	const counted = link('times');
	if (counted !== undefined)
		for (const found of [1, 2, 4].filter((count) => count !== counted))
			guesses.push(times('encoder-times-wrong', 1, { what: 'times', planned: counted, found }, found / counted));
	guesses.push(...countGuesses(relation, timer, one.timer?.width ?? 16, tickOf(one.figures)));
	if (relation.reads.of === 'duty')
		guesses.push({
			code: 'polarity-inverted',
			usual: 11,
			where: { timer, what: 'polarity', planned: 'high', found: 'low' },
			turn: (value) => 1 - value
		});
	guesses.push(...stuckGuess(rows, timer), ...rangeGuesses(rows, timer));
	return guesses;
}

/** The figure of a counter's step. */
const TICK = 'tick';

function tickOf(figures: readonly { name: string; value: { toNumber(): number } }[]): number | undefined {
	return figures.find(({ name }) => name === TICK)?.value.toNumber();
}

/** Mistakes of clock and prescale, as the catalogue has them: all that they do is to let the ticks last longer or shorter. */
function settingGuesses(plan: PlanDerivation, aim: string): { code: string; usual: number; where: Where; factor: number }[] {
	const scene = sceneOf(plan.plan, []);
	const group = scene.groups.find(({ aims }) => aims.some((one) => one.aim.id === aim));
	if (!group) return [];
	const id = group.aims.find((one) => one.aim.id === aim)!.timer!.id;
	const before = group.system.timers.find((timer) => timer.id === id)!;
	return MISTAKES.flatMap((mistake) =>
		mistake.of(group, scene).flatMap(({ where, system, seconds = group.seconds }) => {
			const after = system.timers.find((timer) => timer.id === id)!;
			const factor = (before.prescale * group.seconds) / (after.prescale * seconds);
			const alone = after.mode === before.mode && after.reload === before.reload && after.preload === before.preload;
			return factor !== 1 && alone ? [{ code: mistake.code, usual: mistake.usual, where, factor }] : [];
		})
	);
}

/** A count that is cut, swapped, or goes round. */
function countGuesses(relation: Relation, timer: string, width: number, tick: number | undefined): LogGuess[] {
	const ofCount = (code: string, usual: number, found: number | string, change: (count: number) => number): LogGuess[] => {
		const where = { timer, what: 'count', planned: 'whole', found };
		if (relation.reads.unit === '') return [{ code, usual, where, turn: (value) => change(Math.round(value)) }];
		if (tick === undefined) return [];
		// What is told as a time or a rate was a count of ticks before.
		if (relation.reads.unit === 's') return [{ code, usual, where, turn: (value) => change(Math.round(value / tick)) * tick }];
		if (relation.reads.unit === 'Hz')
			return [{ code, usual, where, turn: (value) => 1 / (Math.max(1, change(Math.round(1 / (value * tick)))) * tick) }];
		return [];
	};
	return [
		...ofCount('wrap-not-counted', 2, 2 ** width, (count) => count % 2 ** width),
		...[8, 16]
			.filter((bits) => bits < width || width > 16)
			.flatMap((bits) => ofCount('value-truncated', 15, bits, (count) => count % 2 ** bits)),
		...ofCount('bytes-swapped', 16, 'swapped', (count) => swapBytes(count, 16))
	];
}

/** The same is read whatever is set: nothing came after the first event. */
function stuckGuess(rows: readonly SweepRow[], timer: string): LogGuess[] {
	const [first] = rows;
	const stuck = rows.length > 2 && rows.every(({ read }) => read.equals(first.read));
	return stuck
		? [
				{
					code: 'flag-not-cleared',
					usual: 30,
					where: { timer, what: 'flag', planned: 'cleared', found: 'kept' },
					turn: () => first.read.toNumber()
				}
			]
		: [];
}

/** What is off only beyond a setting: the filter swallows what is fast, or what was set cannot be believed there. */
function rangeGuesses(rows: readonly SweepRow[], timer: string): LogGuess[] {
	const sorted = [...rows].sort((a, b) => a.set.compare(b.set));
	const firstOff = sorted.findIndex(({ explained }) => !explained);
	const good = firstOff > 0 && sorted.slice(firstOff).every(({ explained }) => !explained);
	if (!good) return [];
	const limit = sorted[firstOff].set;
	const less = sorted.slice(firstOff).every(({ read, planned }) => read.compare(planned![0]) < 0);
	const turn = (value: number, row: SweepRow) => (row.set.compare(limit) >= 0 ? row.read.toNumber() : value);
	const where = (what: string) => ({ timer, what, planned: 'all', found: limit.toNumber() });
	return [
		...(less ? [{ code: 'filter-too-long', usual: 45, where: where('filter'), turn }] : []),
		{ code: 'instrument-range', usual: 46, where: where('instrument'), turn }
	];
}
