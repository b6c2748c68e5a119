import { Rational, exactText, showEngineering } from '../../../core/exact/index.js';
import { type AnyAim, type FieldProblem, readRate, readTime, readWhole } from '../../../core/aims/index.js';
import { type ChangeList, type ChangeRow, type Plan, type Step, insertStep, setStep } from '../../../core/plan/index.js';
import type { DerivedChanges } from '../../../core/predict/index.js';
import { choice, cyclesWord, field, type Token } from '../../components/tokens.js';

/** A fresh list for a timer; its rows come at their own times. */
export function freshList(id: string, timer: string): ChangeList {
	return { id, timer, pace: 'times', every: '1', lag: '60', apart: '8', order: 'reload-first', loop: 'no', rows: [] };
}

export function addListStep(plan: Plan, timer: string, name: string): Step {
	return insertStep(['changes', plan.changes.length], freshList(`writes-${timer}`, timer), `add writes to ${name}`);
}

/** The sentence that says how a list's rows are written. */
export function listSentence(list: ChangeList): Token[] {
	const pace = choice('pace', 'Pace of the rows', list.pace, [
		['times', 'at its own time'],
		['updates', 'with the period events']
	]);
	const order = choice('order', 'Order of the writes', list.order, [
		['reload-first', 'the reload first'],
		['compares-first', 'the compares first']
	]);
	const apart: Token[] = [order, ',', field('apart', 'Core cycles between two writes', 2), `${cyclesWord(list.apart)} from write to write`];
	if (list.pace === 'times') return ['Each row', pace, ',', ...apart.slice(0, -1), `${cyclesWord(list.apart)} from write to write.`];
	return [
		'Each row',
		pace,
		', one every',
		field('every', 'Period events a row', 2),
		'period events,',
		field('lag', 'Core cycles from the period event to the first write', 2),
		`${cyclesWord(list.lag)} after it,`,
		...apart,
		', the list',
		choice('loop', 'What follows the last row', list.loop, [
			['no', 'once'],
			['yes', 'again and again']
		]),
		'.'
	];
}

/** A text that an aim of whatever kind may say. */
function wordOf(aim: AnyAim, field: string): string | undefined {
	const value: unknown = (aim as unknown as Record<string, unknown>)[field];
	return typeof value === 'string' ? value : undefined;
}

/** A row after the last one, with what stands there now; times go on as they went. */
export function addRowStep(plan: Plan, made: DerivedChanges, id: string): Step {
	const at = plan.changes.findIndex((list) => list.id === made.list.id);
	const last = made.rows.at(-1);
	const time = (last?.at ?? Rational.zero).add(Rational.ratio(1, 100));
	const duties = Object.fromEntries(
		made.channels.map(({ channel, aim }) => [channel, made.list.rows.at(-1)?.duties[channel] ?? wordOf(aim, 'duty') ?? ''])
	);
	const rate = made.list.rows.at(-1)?.rate ?? (made.channels[0] && wordOf(made.channels[0].aim, 'rate')) ?? '';
	const row: ChangeRow = { id, at: timeText(time), rate, prescale: '', duties };
	return insertStep(['changes', at, 'rows', made.list.rows.length], row, 'add a row of writes');
}

/** What a helper for steps of frequency asks. */
export interface StepWish {
	from: string;
	to: string;
	count: string;
	/** Time between two rows; means nothing where rows come with the updates. */
	apart: string;
}

/** What the helper begins with: from the timer's own rate to twice as much. */
export function freshSteps(plan: Plan, timer: string): StepWish {
	const rates = plan.aims.flatMap((aim) => (aim.timer === timer && 'rate' in aim ? readRate(aim.rate) : []));
	const own = rates.find(({ ok }) => ok);
	const rate = own?.ok ? own.value : Rational.int(1000);
	return { from: rateText(rate), to: rateText(rate.mul(Rational.int(2))), count: '5', apart: '10 ms' };
}

export type StepProblems = Partial<Record<keyof StepWish, FieldProblem>>;

/** The most steps that are made at once. */
const MOST_STEPS = 200;

/** Rows that go from one rate to another in even steps, each compare rewritten so that its duty stays. */
export function frequencySteps(plan: Plan, made: DerivedChanges, wish: StepWish): { step?: Step; problems: StepProblems } {
	const problems: StepProblems = {};
	const [from, to, count] = [readRate(wish.from), readRate(wish.to), readWhole(wish.count, 1)];
	const apart = made.list.pace === 'times' ? readTime(wish.apart) : undefined;
	if (!from.ok) problems.from = from.problem;
	if (!to.ok) problems.to = to.problem;
	if (!count.ok) problems.count = count.problem;
	else if (count.value > MOST_STEPS) problems.count = { reason: 'too-large', expected: 'whole' };
	if (apart && !apart.ok) problems.apart = apart.problem;
	if (!from.ok || !to.ok || !count.ok || problems.count || (apart && !apart.ok)) return { problems };
	const n = count.value;
	const duties = Object.fromEntries(made.channels.map(({ channel, aim }) => [channel, wordOf(aim, 'duty') ?? '50 %']));
	const rows = Array.from({ length: n }, (_, i): ChangeRow => {
		const rate = n === 1 ? to.value : from.value.add(to.value.sub(from.value).mul(Rational.ratio(i, n - 1)));
		const at = apart?.ok ? timeText(apart.value.mul(Rational.int(i + 1))) : '';
		return { id: `row-${i + 1}`, at, rate: rateText(rate), prescale: '', duties };
	});
	const at = plan.changes.findIndex((list) => list.id === made.list.id);
	return { step: setStep(plan, ['changes', at, 'rows'], rows, `steps from ${wish.from} to ${wish.to}`), problems };
}

/** An exact time as one would type it. */
function timeText(time: Rational): string {
	const shown = showEngineering(time, 's', 9);
	return shown.exact ? `${shown.text} ${shown.unit}` : `${exactText(time)} s`;
}

/** A rate as one would type it; one without an end is rounded to a millihertz. */
function rateText(rate: Rational): string {
	const shown = showEngineering(rate, 'Hz', 9);
	if (shown.exact) return `${shown.text} ${shown.unit}`;
	return `${exactText(Rational.of(rate.mul(Rational.int(1000)).roundHalfUp(), 1000n))} Hz`;
}
