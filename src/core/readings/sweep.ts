import { relationsOf, type AimDerivation, type Reach, type Relation } from '../aims/index.js';
import { budgetOf, inside, type Budget } from '../check/index.js';
import { MILLION, Rational } from '../exact/index.js';
import type { Instrument, PlanDerivation, Sweep } from '../plan/index.js';
import { believed, readInstrumentOf, readValueAs, type ReadInstrument, type ValueTrouble, type ValueUnit } from './value.js';

export interface SweepRow {
	/** Where it stands in the sweep's rows. */
	index: number;
	set: Rational;
	read: Rational;
	/** What could be read as the plan rounds; left out where the registers do not reach the setting. */
	planned?: Reach;
	/** From the nearer end of what could be read; 0 between both. */
	deviation?: Rational;
	budget?: Budget;
	/** Plan, rounding and instruments explain it. */
	explained?: boolean;
	/** The signal is outside of what an instrument can be believed for. */
	beyond: boolean;
}

/** A row of which one side makes no sense. */
export interface SweepTrouble {
	index: number;
	side: 'set' | 'read';
	trouble: ValueTrouble;
}

/** The line through what was read over what was planned, in the middle: read = slope x planned + offset. Rounded. */
export interface SweepFit {
	slope: number;
	offset: number;
	/** Greatest distance of a row from it. */
	most: number;
}

export interface JudgedSweep {
	relation: Relation;
	rows: SweepRow[];
	troubles: SweepTrouble[];
	fit?: SweepFit;
}

/** What can be set and read of an aim. */
export function sweepRelations(plan: PlanDerivation, aim: string): Relation[] {
	const derivation = plan.aims.find((one) => one.aim.id === aim);
	return derivation?.timer && derivation.use ? relationsOf(derivation, (id) => plan.aims.find((one) => one.aim.id === id)) : [];
}

/** Holds a sweep's rows against the plan, each by itself, and lays a line through them; undefined where nothing of that name is planned. */
export function judgeSweep(plan: PlanDerivation, sweep: Sweep, instruments: readonly Instrument[]): JudgedSweep | undefined {
	const derivation = plan.aims.find((one) => one.aim.id === sweep.aim);
	const relation = sweepRelations(plan, sweep.aim).find(({ id }) => id === sweep.of);
	if (!relation || !derivation) return undefined;
	const known = (id: string) => readInstrumentOf(instruments.find((one) => one.id === id));
	const judge = new RowJudge(relation, derivation, plan, known(sweep.setBy), known(sweep.readBy));
	const rows: SweepRow[] = [];
	const troubles: SweepTrouble[] = [];
	sweep.rows.forEach(([setText, readText], index) => {
		const set = readValueAs(relation.set.unit, setText, sweep.setUnit, '');
		const read = readValueAs(relation.reads.unit, readText, sweep.readUnit, sweep.error);
		if (typeof set === 'string') troubles.push({ index, side: 'set', trouble: set });
		else if (typeof read === 'string') troubles.push({ index, side: 'read', trouble: read });
		else rows.push(judge.row(index, set.value, read));
	});
	const fit = fitted(rows);
	return { relation, rows, troubles, ...(fit && { fit }) };
}

class RowJudge {
	private readonly source: [Rational, Rational];

	constructor(
		private readonly relation: Relation,
		derivation: AimDerivation,
		plan: PlanDerivation,
		private readonly setBy: ReadInstrument,
		private readonly readBy: ReadInstrument
	) {
		this.source = plan.clocks.ppm(derivation.timer!.kernel) ?? [Rational.zero, Rational.zero];
	}

	row(index: number, set: Rational, { value, error }: { value: Rational; error: Rational }): SweepRow {
		const { relation, setBy, readBy } = this;
		const beyond =
			!believed(setBy, rateOf(relation.set.unit, set)) ||
			!believed(readBy, rateOf(relation.reads.unit, value) ?? rateOf(relation.set.unit, set));
		const planned = this.reach(set);
		if (!planned) return { index, set, read: value, beyond };
		const [low, high] = planned;
		const nearest = value.compare(low) < 0 ? low : value.compare(high) > 0 ? high : value;
		const parts = { aim: Rational.zero, source: this.source, planned: nearest, recording: error, instrument: readBy.ppm };
		const budget = budgetOf(nearest, relation.stretch, parts);
		const deviation = value.sub(nearest);
		return { index, set, read: value, planned, deviation, budget, explained: inside(deviation, budget), beyond };
	}

	/** What can be read where the setting itself is only known as well as its instrument says. */
	private reach(set: Rational): Reach | undefined {
		const own = this.relation.at(set);
		const off = this.relation.set.unit === 'Hz' || this.relation.set.unit === 's' ? this.setBy.ppm.div(MILLION) : Rational.zero;
		if (!own || off.sign === 0) return own;
		const ends = [Rational.one.sub(off), Rational.one.add(off)].map((stretch) => this.relation.at(set.mul(stretch)) ?? own);
		const all = [own, ...ends];
		return [all.map(([low]) => low).reduce(least), all.map(([, high]) => high).reduce(most)];
	}
}

const least = (a: Rational, b: Rational) => (a.compare(b) <= 0 ? a : b);
const most = (a: Rational, b: Rational) => (a.compare(b) >= 0 ? a : b);

function rateOf(unit: ValueUnit, value: Rational): Rational | undefined {
	if (value.sign <= 0) return undefined;
	return unit === 'Hz' ? value : unit === 's' ? value.inverse() : undefined;
}

function fitted(rows: readonly SweepRow[]): SweepFit | undefined {
	const points = rows.flatMap(({ planned, read }) => (planned ? [[middle(planned), read.toNumber()]] : []));
	if (points.length < 2) return undefined;
	const mean = (at: 0 | 1) => points.reduce((sum, point) => sum + point[at], 0) / points.length;
	const [x, y] = [mean(0), mean(1)];
	const spread = points.reduce((sum, [a]) => sum + (a - x) ** 2, 0);
	if (spread === 0) return undefined;
	const slope = points.reduce((sum, [a, b]) => sum + (a - x) * (b - y), 0) / spread;
	const offset = y - slope * x;
	return { slope, offset, most: Math.max(...points.map(([a, b]) => Math.abs(b - slope * a - offset))) };
}

function middle([low, high]: Reach): number {
	return low.add(high).div(Rational.int(2)).toNumber();
}

/** From so many times the least setting on, decades are drawn as wide as each other. */
const DECADES = 50;

/** Are its settings spread over decades? */
export function overDecades(rows: readonly SweepRow[]): boolean {
	const sets = rows.map(({ set }) => set.toNumber());
	return Math.min(...sets) > 0 && Math.max(...sets) > DECADES * Math.min(...sets);
}

/** What can be read over a stretch of settings, as points of its lower and its upper end, for a drawing: those of the rows, and evenly between. */
export function sweepSteps({ relation, rows }: JudgedSweep, points: number): { set: number; low: number; high: number }[] {
	const sets = rows.map(({ set }) => set);
	const [from, to] = sets.length > 0 ? [sets.reduce(least), sets.reduce(most)] : [relation.low, relation.high];
	const whole = relation.set.unit === '';
	const span = to.sub(from);
	const count = whole && span.compare(Rational.int(points)) < 0 ? span.toNumber() + 1 : points;
	const decades = overDecades(rows);
	const ratio = decades ? (to.toNumber() / from.toNumber()) ** (1 / Math.max(1, count - 1)) : 1;
	const between = Array.from({ length: Math.max(2, count) }, (_, i) => {
		const even = from.add(span.mul(Rational.ratio(i, Math.max(1, count - 1))));
		const at = decades ? Rational.parse((from.toNumber() * ratio ** i).toPrecision(9)) : even;
		return whole ? Rational.of(at.roundHalfUp()) : at;
	});
	const all = [...between, ...(sets.length < points ? sets : [])].sort((a, b) => a.compare(b));
	return all.flatMap((set, i) => {
		const reach = i > 0 && set.compare(all[i - 1]) === 0 ? undefined : relation.at(set);
		return reach ? [{ set: set.toNumber(), low: reach[0].toNumber(), high: reach[1].toNumber() }] : [];
	});
}
