import { ppmError, Rational, type Hertz } from '../../exact/index.js';
import type { PeriodCandidate } from '../../solve/index.js';
import { largest, MOST_TABLE_ROWS, periodTicks, shapeAt, tableRows, wholeTicks, type Counting, type TableRow } from '../../timer/index.js';
import { readPart, readRate, readShare, readTolerance, type PartDimension } from '../common/fields.js';
import { pulseOn, type Pulse } from '../common/places.js';
import type { TableAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, TableCell } from '../common/derivation.js';
import { choosePeriod, periodLinks } from '../common/period.js';
import { checkUpdates, firstUpdate, periodsAnUpdate } from '../common/updates.js';
import { deriveLegs } from './legs.js';
import { furtherOf, ownAt, readOwn, type OwnRow } from './own.js';

const MOST_DRAWN = 600;
const SERIES = ['first', 'second'];

/** The outputs of a shape, all on one way of counting. */
interface Outputs {
	counting: Counting;
	/** `of`: the column of the own shape that it shows; `mirrored`: turned over, or the other half wave. */
	outputs: { id: string; pulse: Pulse; of: number; mirrored: boolean }[];
}

/** What each row of the table comes to. */
interface Row {
	/** Its own reload; undefined: the carrier's. */
	reload: number | undefined;
	/** One an output. */
	outs: TableRow[];
}

/** A slow wave as a table of compares, one row an update (timers.md 9): rows, their rounding, the period each acts on, the base's error. */
export function deriveTable(aim: TableAim, context: AimContext): AimDerivation<TableAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const carrier = draft.rate('carrier', aim.carrier);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, carrier));
	const base = draft.take('base', readRate(aim.base));
	const baseTolerance = draft.take('baseTolerance', readTolerance(aim.baseTolerance, base));
	const amplitude = draft.take('amplitude', readShare(aim.amplitude, 0));
	const offset = draft.take('offset', readShare(aim.offset, 0));
	const lag = draft.cycles('lag', aim.lag);
	const own = aim.shape === 'own' ? ownRows(draft, aim.own, 1 + furtherOf(aim).length) : undefined;
	readFilter(draft, aim);
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const outputs = outputsFor(draft, aim);
	if (!outputs || !carrier || lag === undefined) return derivation;
	const best = choosePeriod(draft, outputs.counting, carrier, tolerance);
	if (!best) return derivation;
	derivation.strip = periodLinks(timer, best);
	draft.figure('carrier', best.hz, 'Hz');
	draft.figure('error', best.ppm, 'ppm');
	const row = periodsAnUpdate(context, timer, outputs.counting.mode);
	checkUpdates(draft, aim.updates, outputs.counting.mode);
	checkWrites(draft, aim, lag, best.hz.div(row));
	if (!base || !amplitude || !offset || (aim.shape === 'own' && !own)) return derivation;
	const timed = own?.some(({ period }) => period) ? own : undefined;
	const rows = timed
		? timedRows(draft, timed, outputs, best, { amplitude, offset })
		: plainRows(draft, aim, own, outputs, best, { base, amplitude, offset, row });
	if (!rows) return derivation;
	tellBase(
		draft,
		rows,
		best,
		{ counting: outputs.counting, row, wish: base, rectified: aim.wave === 'half' && aim.second === '' && !timed },
		baseTolerance
	);
	tellRows(draft, aim, outputs, rows, lag, { row, first: firstUpdate(context, timer, outputs.counting.mode) });
	deriveLegs(draft, aim, rows.length, best.hz.div(row));
	return derivation;
}

/** The parts of the filter behind the pin. */
function readFilter(draft: DerivationDraft, aim: TableAim): void {
	const part = (name: PartDimension) => draft.take(name, readPart(aim[name], name))?.toNumber();
	const [resistance, capacitance] = [part('resistance'), part('capacitance')];
	const inductance = aim.filter === 'lc' ? part('inductance') : 0;
	if (resistance === undefined || capacitance === undefined || inductance === undefined) return;
	draft.derivation.run.filter =
		aim.filter === 'lc' ? { kind: 'lc', resistance, capacitance, inductance } : { kind: 'rc', resistance, capacitance };
}

/** The outputs' pulses: both on one way of counting. */
function outputsFor(draft: DerivationDraft, aim: TableAim): Outputs | undefined {
	const timer = draft.derivation.timer!;
	const wanted = [
		{ id: aim.channel, of: 0, mirrored: false },
		...(aim.second === '' ? [] : [{ id: aim.second, of: 0, mirrored: true }]),
		...furtherOf(aim).map((id, i) => ({ id, of: i + 1, mirrored: false }))
	];
	const outputs: Outputs['outputs'] = [];
	for (const one of wanted) {
		const channel = timer.channels.find((c) => c.id === one.id);
		const pulse = channel && pulseOn(timer, channel, { align: aim.align, output: 'auto' });
		const twice = outputs.some(({ id }) => id === one.id);
		if (channel && !pulse && aim.align !== 'auto') draft.fault({ code: 'mode-missing', mode: aim.align, timer: timer.name });
		else if (!pulse || twice || (outputs.length > 0 && pulse.counting.mode !== outputs[0].pulse.counting.mode))
			draft.fault({ code: 'place-missing', what: one.id, timer: timer.name });
		else outputs.push({ ...one, pulse });
	}
	return outputs.length === wanted.length ? { counting: outputs[0].pulse.counting, outputs } : undefined;
}

/** Which period a row acts on hangs on how the compare is written. */
function checkWrites(draft: DerivationDraft, { writes, prefill }: TableAim, lag: number, updates: Hertz): void {
	const timer = draft.derivation.timer!;
	const offered = timer.buffered?.compare ?? 'always';
	if (offered === (writes === 'buffered' ? 'never' : 'always')) draft.fault({ code: 'cannot-buffer', timer: timer.name, writes });
	else if (writes === 'immediate') draft.warn({ code: 'unbuffered' });
	else if (prefill === 'no') draft.warn({ code: 'table-late' });
	const late = draft.time(lag);
	draft.derivation.run.lag = late;
	draft.figure('write-lag', late, 's');
	if (late.compare(updates.inverse()) >= 0) draft.fault({ code: 'write-late', lag: late, period: updates.inverse() });
}

function plainRows(
	draft: DerivationDraft,
	aim: TableAim,
	own: OwnRow[] | undefined,
	{ counting, outputs }: Outputs,
	best: PeriodCandidate,
	{ base, amplitude, offset, row }: { base: Hertz; amplitude: Rational; offset: Rational; row: Rational }
): Row[] | undefined {
	const single = aim.wave === 'half' && aim.second === '';
	const updates = best.hz.div(row);
	const exact = updates.div(base).div(Rational.int(single ? 2 : 1));
	const count = exact.roundHalfUp();
	if (count < 2n) draft.fault({ code: 'rows-too-few', rows: exact });
	else if (count > BigInt(MOST_TABLE_ROWS)) draft.fault({ code: 'rows-too-many', rows: exact, limit: MOST_TABLE_ROWS });
	if (count < 2n || count > BigInt(MOST_TABLE_ROWS)) return undefined;
	const n = Number(count);
	draft.formula('rows', { carrier: updates, base, rows: exact, count: Rational.int(n) });
	const shape = (k: number, column: number) => {
		const share = Rational.ratio(k, single ? 2 * n : n);
		return own ? ownAt(own, share, column) : shapeAt(aim.shape as Exclude<TableAim['shape'], 'own'>, share);
	};
	const half = aim.wave === 'half';
	const made = outputs.map(({ pulse, of, mirrored }) => {
		const duties = Array.from({ length: n }, (_, k) => {
			const value = amplitude.mul(shape(k, of));
			const turned = mirrored ? value.neg() : value;
			if (!half) return offset.add(turned);
			return offset.add(single ? turned.abs() : turned.sign > 0 ? turned : Rational.zero);
		});
		checkRowsInside(draft, duties);
		return tableRows(counting, best.reload, pulse.rule, duties)!;
	});
	return Array.from({ length: n }, (_, k) => ({ reload: undefined, outs: made.map((rows) => rows[k]) }));
}

/** Rows with periods of their own: one prescale for all, and a reload each. */
function timedRows(
	draft: DerivationDraft,
	own: readonly OwnRow[],
	{ counting, outputs }: Outputs,
	best: PeriodCandidate,
	{ amplitude, offset }: { amplitude: Rational; offset: Rational }
): Row[] | undefined {
	const { kernel, timer } = draft.derivation;
	const tickRate = kernel!.div(Rational.int(best.prescale));
	const most = largest(timer!.width);
	const duties = outputs.map(({ of, mirrored }) =>
		own.map(({ values }) => {
			const value = amplitude.mul(values[of]);
			return mirrored ? offset.sub(value) : offset.add(value);
		})
	);
	for (const wished of duties) checkRowsInside(draft, wished);
	const rows: Row[] = [];
	for (const [k, { period }] of own.entries()) {
		const ticks = period ? wholeTicks(period, tickRate).ticks : best.ticks;
		const reload = counting.mode === 'updown' ? Math.round(ticks / 2) : counting.rule === 'inclusive' ? ticks - 1 : ticks;
		if (reload < 1 || reload > most) {
			draft.fault({
				code: 'lock-refused',
				link: 'reload',
				value: reload,
				limit: most,
				kept: ((reload % 2 ** timer!.width) + 2 ** timer!.width) % 2 ** timer!.width
			});
			return undefined;
		}
		rows.push({ reload, outs: outputs.map(({ pulse }, i) => tableRows(counting, reload, pulse.rule, [duties[i][k]])![0]) });
	}
	return rows;
}

function checkRowsInside(draft: DerivationDraft, duties: readonly Rational[]): void {
	const row = duties.findIndex((duty) => duty.sign < 0 || duty.compare(Rational.one) > 0);
	if (row >= 0) draft.fault({ code: 'row-outside', row, duty: duties[row] });
}

/** The rate of the whole table against the wish. */
function tellBase(
	draft: DerivationDraft,
	rows: readonly Row[],
	best: PeriodCandidate,
	{ counting, row, wish, rectified }: { counting: Counting; row: Rational; wish: Hertz; rectified: boolean },
	tolerance: Rational | undefined
): void {
	const tick = best.hz.inverse().div(Rational.int(best.ticks));
	const ticks = rows.reduce((sum, { reload }) => sum + (reload === undefined ? best.ticks : periodTicks(counting, reload)!), 0);
	const real = tick
		.mul(row)
		.mul(Rational.int(ticks * (rectified ? 2 : 1)))
		.inverse();
	const ppm = ppmError(real, wish);
	draft.figure('base', real, 'Hz');
	draft.figure('base-error', ppm, 'ppm');
	draft.figure('rows', Rational.int(rows.length), '');
	if (tolerance && ppm.abs().compare(tolerance) > 0) draft.fault({ code: 'base-outside', ppm, tolerance, hz: real, wish });
}

/** The rows with their rounding, and which period each acts on; `row`: periods that one lasts, `first`: before the first update. */
function tellRows(
	draft: DerivationDraft,
	aim: TableAim,
	{ outputs }: Outputs,
	rows: readonly Row[],
	lag: number,
	pace: { row: Rational; first: Rational }
): void {
	const { derivation } = draft;
	const worst = rows
		.flatMap(({ outs }) => outs.map(({ duty, wished }) => duty.sub(wished).abs()))
		.reduce((most, off) => (off.compare(most) > 0 ? off : most), Rational.zero);
	draft.figure('rounding', worst, '%');
	draft.figure('steps', Rational.int(new Set(rows.map(({ outs }) => outs[0].compare)).size), '');
	// Row 0 stands from the start; row k is written at update k, and a buffered one acts an update later.
	const late = aim.writes === 'buffered' ? (aim.prefill === 'yes' ? 0 : 1) : lag > 0 ? null : 0;
	const plain = pace.row.equals(Rational.one) && pace.first.equals(Rational.one);
	const acts = (k: number): TableCell => {
		if (k === 0) return late === 1 && plain ? '0, 1' : '0';
		const at = pace.first.add(pace.row.mul(Rational.int(k + (late ?? 0) - 1)));
		return late === null ? { code: 'under-way', period: at } : at;
	};
	const nameOf = (id: string) => derivation.timer!.channels.find((one) => one.id === id)?.name ?? id;
	const compareOf = (id: string, i: number) =>
		i === 0 ? 'compare' : outputs.length === 2 && aim.second === id ? 'second-compare' : `compare:${nameOf(id)}`;
	const timed = rows.some(({ reload }) => reload !== undefined);
	derivation.table = {
		columns: [
			{ name: 'row', unit: '' },
			{ name: 'wished-duty', unit: '%' },
			...(timed ? [{ name: 'reload', unit: '' }] : []),
			...outputs.map(({ id }, i) => ({ name: compareOf(id, i), unit: '' })),
			{ name: 'duty', unit: '%' },
			{ name: 'rounding', unit: '%' },
			{ name: 'acts-on', unit: '' }
		],
		rows: rows.map((row, k) => ({
			values: [
				Rational.int(k),
				row.outs[0].wished,
				...(timed ? [Rational.int(row.reload!)] : []),
				...row.outs.map(({ compare }) => Rational.int(compare)),
				row.outs[0].duty,
				row.outs[0].duty.sub(row.outs[0].wished),
				acts(k)
			],
			chosen: false
		}))
	};
	derivation.run.rows = rows.map(({ outs, reload }) => ({
		compare: Object.fromEntries(outputs.map(({ id }, i) => [id, outs[i].compare])),
		...(reload !== undefined && { reload })
	}));
	const every = Math.ceil(rows.length / MOST_DRAWN);
	const points = (of: (row: Row) => Rational): [number, number][] =>
		rows.flatMap((row, k) => (k % every === 0 ? [[k, of(row).toNumber() * 100] satisfies [number, number]] : []));
	derivation.charts = [
		{
			code: 'rows',
			series: outputs.map((_, i) => ({
				...(outputs.length > 2 ? { label: 'further', number: i + 1 } : { label: outputs.length === 1 ? 'duty' : SERIES[i] }),
				points: points(({ outs }) => outs[i].duty)
			}))
		}
	];
}

/** The pasted rows; says what is wrong with them. */
function ownRows(draft: DerivationDraft, text: string, columns: number): OwnRow[] | undefined {
	const own = readOwn(text);
	if ('unread' in own) {
		draft.fault({ code: 'row-unread', row: own.unread });
		return undefined;
	}
	const { rows } = own;
	const short = rows.findIndex(({ values }) => values.length !== columns);
	if (short >= 0) {
		draft.fault({ code: 'row-uneven', row: short, values: rows[short].values.length, wanted: columns });
		return undefined;
	}
	if (rows.length >= 2 && rows.length <= MOST_TABLE_ROWS) return rows;
	if (rows.length < 2) draft.fault({ code: 'rows-too-few', rows: Rational.int(rows.length) });
	else draft.fault({ code: 'rows-too-many', rows: Rational.int(rows.length), limit: MOST_TABLE_ROWS });
	return undefined;
}
