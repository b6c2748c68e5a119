import { Rational, ppmError, readQuantity, type Hertz, type Ppm, type Seconds } from '../exact/index.js';
import { prescaleCode, type TimerProfile } from '../part/index.js';
import { activeTicks, largest, nearestActive, periodTicks, type Counting, type OutputRule } from '../timer/index.js';
import {
	kindOf,
	nearestPeriod,
	readCycles,
	readDuty,
	readRate,
	readSpan,
	readWhole,
	wantedTicks,
	type AnyAim,
	type Field,
	type FieldProblem
} from '../aims/index.js';
import { channelsOf, type ChangeList, type ChangeRow, type PlanDerivation } from '../plan/index.js';

/** A pin of a timer whose compare a list may write. */
export interface ChangedChannel {
	aim: AnyAim;
	channel: string;
	rule: OutputRule;
	compare: number;
}

/** What a timer does from a row on, once everything of it acts. */
export interface RunningSetting {
	prescale: number;
	reload: number;
	ticks: number;
	compares: Record<string, number>;
	/** Active ticks by channel. */
	active: Record<string, number>;
}

export interface DerivedRow extends RunningSetting {
	row: ChangeRow;
	at?: Seconds;
	/** Registers that are written. */
	writes: { reload?: number; prescale?: number; compare: Record<string, number> };
	hz: Hertz;
	/** Against the row's own wish. */
	ppm?: Ppm;
}

export type ChangeProblem = { severity: 'fault' | 'warning'; row?: string } & (
	| { code: 'change-field'; field: string; problem: FieldProblem }
	| { code: 'change-idle' }
	| { code: 'change-fed' }
	| { code: 'change-order' }
	| { code: 'change-empty' }
	| { code: 'change-reload'; limit: number }
	| { code: 'change-prescale'; value: number }
	/** The nearest rate on the prescale in force is further off than the aim allows. */
	| { code: 'change-off'; hz: Rational; wish: Rational; ppm: Rational; tolerance: Rational }
	| { code: 'change-duty-moves'; channel: string; from: Rational; to: Rational }
);

/** A list of writes, worked out as far as it can be read. */
export interface DerivedChanges {
	list: ChangeList;
	timer?: TimerProfile;
	counting?: Counting;
	/** Periods of the counter in one of what is wished for: two of a toggled pin. */
	share: Rational;
	/** How far a rate may be off, in ppm; undefined: the aim does not say. */
	tolerance?: Ppm;
	channels: ChangedChannel[];
	/** What the plan itself sets, before any row. */
	begin?: RunningSetting;
	rows: DerivedRow[];
	/** Core cycles to the first write, between two of a row, and updates a row. */
	lag: number;
	apart: number;
	every: number;
	problems: ChangeProblem[];
}

/** All lists of a derived plan. */
export function deriveChanges(derivation: PlanDerivation): DerivedChanges[] {
	return derivation.plan.changes.map((list) => deriveList(derivation, list));
}

function deriveList(derivation: PlanDerivation, list: ChangeList): DerivedChanges {
	const timer = derivation.plan.part.timers.find(({ id }) => id === list.timer);
	const made: DerivedChanges = {
		list,
		share: Rational.one,
		channels: [],
		rows: [],
		lag: 0,
		apart: 0,
		every: 1,
		problems: [],
		...(timer && { timer })
	};
	const core = derivation.plan.part.core === undefined ? null : derivation.clocks.rate(derivation.plan.part.core);
	const take = (field: 'lag' | 'apart' | 'every', read: Field<number>) => {
		if (read.ok) made[field] = read.value;
		else made.problems.push({ code: 'change-field', severity: 'fault', field, problem: read.problem });
	};
	take('lag', readCycles(list.lag, core));
	take('apart', readCycles(list.apart, core));
	if (list.pace === 'updates') take('every', readWhole(list.every, 1));
	const decided = derivation.aims.find((one) => one.aim.timer === list.timer && one.use?.kind === 'period');
	const { counting, prescale, reload } = decided?.use ?? {};
	if (!timer || !decided?.kernel || !counting || prescale === undefined || reload === undefined) {
		made.problems.push({ code: 'change-idle', severity: 'fault' });
		return made;
	}
	const fed = derivation.aims.some(({ aim }) => aim.timer === list.timer && kindOf(aim).feedsUpdates);
	if (fed) made.problems.push({ code: 'change-fed', severity: 'fault' });
	made.counting = counting;
	const { wishes, tradeoff } = decided;
	if (wishes?.rate && tradeoff) made.share = tradeoff.wish.div(wishes.rate.value);
	if (wishes?.rate?.ppm) made.tolerance = wishes.rate.ppm;
	made.channels = changedChannels(derivation, timer);
	const compares = Object.fromEntries(made.channels.map(({ channel, compare }) => [channel, compare]));
	made.begin = settingWith(made, prescale, reload, compares);
	if (list.rows.length === 0) made.problems.push({ code: 'change-empty', severity: 'warning' });
	if (!fed) deriveRows(made, decided.kernel);
	return made;
}

/** The pins of a timer that a compare shapes. */
function changedChannels({ plan, aims }: PlanDerivation, timer: TimerProfile): ChangedChannel[] {
	return aims.flatMap(({ aim, pulse }): ChangedChannel[] => {
		if (aim.timer !== timer.id || !pulse || !kindOf(aim).compareCanChange) return [];
		const { rule, compare } = pulse;
		return channelsOf(aim, plan.part).map((channel) => ({ aim, channel, rule, compare }));
	});
}

function settingWith(
	{ counting, channels }: DerivedChanges,
	prescale: number,
	reload: number,
	compares: Record<string, number>
): RunningSetting {
	const active = Object.fromEntries(
		channels.map(({ channel, rule }) => [channel, activeTicks(counting!, reload, rule, compares[channel]) ?? 0])
	);
	return { prescale, reload, ticks: periodTicks(counting!, reload) ?? 0, compares, active };
}

/** Each row on what stands before it. */
function deriveRows(made: DerivedChanges, kernel: Hertz): void {
	let before = made.begin!;
	let last: Seconds | undefined;
	for (const row of made.list.rows) {
		const found = deriveRow(made, row, before, kernel);
		if (!found) continue;
		if (made.list.pace === 'times') {
			const at = readSpan(row.at);
			if (!at.ok) {
				made.problems.push({ code: 'change-field', severity: 'fault', row: row.id, field: 'at', problem: at.problem });
				continue;
			}
			if (last && at.value.compare(last) <= 0) made.problems.push({ code: 'change-order', severity: 'fault', row: row.id });
			last = at.value;
			found.at = at.value;
		}
		made.rows.push(found);
		before = found;
	}
}

function deriveRow(made: DerivedChanges, row: ChangeRow, before: RunningSetting, kernel: Hertz): DerivedRow | undefined {
	const { timer, counting, channels, problems } = made;
	const at = { row: row.id };
	const bad = (field: string, problem: FieldProblem) => problems.push({ code: 'change-field', severity: 'fault', ...at, field, problem });
	const writes: DerivedRow['writes'] = { compare: {} };
	let { prescale, reload } = before;
	if (row.prescale.trim() !== '') {
		const read = readWhole(row.prescale, 1);
		if (!read.ok) bad('prescale', read.problem);
		else if (prescaleCode(timer!.prescaler, read.value) === undefined)
			problems.push({ code: 'change-prescale', severity: 'fault', ...at, value: read.value });
		else writes.prescale = prescale = read.value;
	}
	const tickRate = kernel.div(Rational.int(prescale));
	let ppm: Ppm | undefined;
	if (row.rate.trim() !== '') {
		const read = readPeriod(row.rate, tickRate, made.share);
		const best =
			'wish' in read
				? nearestPeriod({ counting: counting!, kernel, wish: read.wish.mul(made.share) }, timer!.prescaler, { prescale })
				: undefined;
		if ('problem' in read) bad('rate', read.problem);
		else if (!best) problems.push({ code: 'change-reload', severity: 'fault', ...at, limit: largest(timer!.width) });
		else {
			writes.reload = reload = best.reload;
			const hz = best.hz.div(made.share);
			ppm = ppmError(hz, read.wish);
			if (made.tolerance && ppm.abs().compare(made.tolerance) > 0)
				problems.push({ code: 'change-off', severity: 'warning', ...at, hz, wish: read.wish, ppm, tolerance: made.tolerance });
		}
	}
	if (problems.some((one) => one.row === row.id && one.severity === 'fault')) return undefined;
	const compares = { ...before.compares };
	const ticks = periodTicks(counting!, reload) ?? 0;
	for (const { channel, rule } of channels) {
		const text = row.duties[channel] ?? '';
		if (text.trim() === '') continue;
		const read = readDuty(text);
		const choice = read.ok && nearestActive(counting!, reload, rule, wantedTicks(read.value, tickRate, ticks));
		if (!read.ok) bad(`duty ${channel}`, read.problem);
		else if (choice) writes.compare[channel] = compares[channel] = choice.compare;
	}
	const now = settingWith(made, prescale, reload, compares);
	for (const { channel } of channels) {
		const [from, to] = [share(before, channel), share(now, channel)];
		if (writes.compare[channel] === undefined && writes.reload !== undefined && !from.equals(to))
			problems.push({ code: 'change-duty-moves', severity: 'warning', ...at, channel, from, to });
	}
	return { ...now, row, writes, hz: tickRate.div(Rational.int(Math.max(1, ticks))).div(made.share), ...(ppm && { ppm }) };
}

function share({ active, ticks }: RunningSetting, channel: string): Rational {
	return Rational.ratio(active[channel], Math.max(1, ticks));
}

/** "1.5 kHz", "650 us" or "50000 ticks" of the counter, as the rate that is wished for. */
function readPeriod(text: string, tickRate: Hertz, share: Rational): { wish: Hertz } | { problem: FieldProblem } {
	const plain = readQuantity(text);
	if (plain.ok && plain.quantity.dimension === 'ticks' && plain.quantity.value.sign > 0)
		return { wish: tickRate.div(plain.quantity.value).div(share) };
	const read = readRate(text);
	return read.ok ? { wish: read.value } : { problem: read.problem };
}
