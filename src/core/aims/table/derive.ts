import { ppmError, Rational, readQuantity, type Hertz, type Seconds } from '../../exact/index.js';
import type { PeriodCandidate } from '../../solve/index.js';
import { largest, MOST_TABLE_ROWS, periodTicks, shapeAt, tableRows, wholeTicks, type Counting, type TableRow } from '../../timer/index.js';
import { readPart, readRate, readShare, readTolerance, type PartDimension } from '../common/fields.js';
import { pulseOn, type Pulse } from '../common/places.js';
import type { TableAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, TableCell } from '../common/derivation.js';
import { choosePeriod, periodLinks } from '../common/period.js';

const MOST_DRAWN = 600;

/** A pasted row: its value, and its own period where it has one. */
interface OwnRow {
	value: Rational;
	period: Seconds | undefined;
}

/** What each row of the table comes to. */
interface Row extends TableRow {
	/** Its own reload; undefined: the carrier's. */
	reload: number | undefined;
	/** The second output's, where there are two. */
	second: TableRow | undefined;
}

/** A slow wave as a table of compares, one row an update (timers.md 9): rows, their rounding, the period each acts on, the base's error. */
export function deriveTable(aim: TableAim, context: AimContext): AimDerivation<TableAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const carrier = draft.take('carrier', readRate(aim.carrier));
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, carrier));
	const base = draft.take('base', readRate(aim.base));
	const baseTolerance = draft.take('baseTolerance', readTolerance(aim.baseTolerance, base));
	const amplitude = draft.take('amplitude', readShare(aim.amplitude, 0));
	const offset = draft.take('offset', readShare(aim.offset, 0));
	const lag = draft.cycles('lag', aim.lag);
	const own = aim.shape === 'own' ? readOwn(draft, aim.own) : undefined;
	readFilter(draft, aim);
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const pulse = pulseFor(draft, aim);
	if (!pulse || !carrier || lag === undefined) return derivation;
	const best = choosePeriod(draft, pulse.counting, carrier, tolerance);
	if (!best) return derivation;
	derivation.strip = periodLinks(timer, best);
	draft.figure('carrier', best.hz, 'Hz');
	draft.figure('error', best.ppm, 'ppm');
	checkWrites(draft, aim, lag, best);
	if (!base || !amplitude || !offset || (aim.shape === 'own' && !own)) return derivation;
	const timed = own?.some(({ period }) => period) ? own : undefined;
	const rows = timed
		? timedRows(draft, timed, pulse, best, { amplitude, offset })
		: plainRows(draft, aim, own, pulse, best, { base, amplitude, offset });
	if (!rows) return derivation;
	tellBase(draft, rows, best, pulse.counting, base, baseTolerance, aim.wave === 'half' && aim.second === '');
	tellRows(draft, aim, rows, lag);
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

/** One way of counting for both outputs. */
function pulseFor(draft: DerivationDraft, aim: TableAim): Pulse | undefined {
	const timer = draft.derivation.timer!;
	const pulses = [aim.channel, ...(aim.second === '' ? [] : [aim.second])].map((id) => {
		const channel = timer.channels.find((c) => c.id === id);
		const pulse = channel && pulseOn(timer, channel);
		if (!pulse) draft.fault({ code: 'place-missing', what: id, timer: timer.name });
		return pulse;
	});
	if (aim.second === aim.channel) draft.fault({ code: 'place-missing', what: aim.second, timer: timer.name });
	return pulses.every(Boolean) && aim.second !== aim.channel ? pulses[0] : undefined;
}

/** Which period a row acts on hangs on how the compare is written. */
function checkWrites(draft: DerivationDraft, { writes, prefill }: TableAim, lag: number, best: PeriodCandidate): void {
	const timer = draft.derivation.timer!;
	const offered = timer.buffered?.compare ?? 'always';
	if (offered === (writes === 'buffered' ? 'never' : 'always')) draft.fault({ code: 'cannot-buffer', timer: timer.name, writes });
	else if (writes === 'immediate') draft.warn({ code: 'unbuffered' });
	else if (prefill === 'no') draft.warn({ code: 'table-late' });
	const late = draft.time(lag);
	draft.derivation.run.lag = late;
	draft.figure('write-lag', late, 's');
	if (late.compare(best.hz.inverse()) >= 0) draft.fault({ code: 'write-late', lag: late, period: best.hz.inverse() });
}

function plainRows(
	draft: DerivationDraft,
	aim: TableAim,
	own: OwnRow[] | undefined,
	{ counting, rule }: Pulse,
	best: PeriodCandidate,
	{ base, amplitude, offset }: { base: Hertz; amplitude: Rational; offset: Rational }
): Row[] | undefined {
	const single = aim.wave === 'half' && aim.second === '';
	const exact = best.hz.div(base).div(Rational.int(single ? 2 : 1));
	const count = exact.roundHalfUp();
	if (count < 2n) draft.fault({ code: 'rows-too-few', rows: exact });
	else if (count > BigInt(MOST_TABLE_ROWS)) draft.fault({ code: 'rows-too-many', rows: exact, limit: MOST_TABLE_ROWS });
	if (count < 2n || count > BigInt(MOST_TABLE_ROWS)) return undefined;
	const n = Number(count);
	draft.formula('rows', { carrier: best.hz, base, rows: exact, count: Rational.int(n) });
	const shape = (k: number) => {
		const share = Rational.ratio(k, single ? 2 * n : n);
		return own ? ownAt(own, share) : shapeAt(aim.shape as Exclude<TableAim['shape'], 'own'>, share);
	};
	const values = Array.from({ length: n }, (_, k) => amplitude.mul(shape(k)));
	const half = aim.wave === 'half';
	const positive = (value: Rational) => (value.sign > 0 ? value : Rational.zero);
	const first = values.map((value) => offset.add(half ? (single ? value.abs() : positive(value)) : value));
	const second = aim.second === '' ? undefined : values.map((value) => offset.add(half ? positive(value.neg()) : value.neg()));
	checkRowsInside(draft, first);
	const firstRows = tableRows(counting, best.reload, rule, first)!;
	const secondRows = second && tableRows(counting, best.reload, rule, second)!;
	return firstRows.map((row, k) => ({ ...row, reload: undefined, second: secondRows?.[k] }));
}

/** Rows with periods of their own: one prescale for all, and a reload each. */
function timedRows(
	draft: DerivationDraft,
	own: readonly OwnRow[],
	{ counting, rule }: Pulse,
	best: PeriodCandidate,
	{ amplitude, offset }: { amplitude: Rational; offset: Rational }
): Row[] | undefined {
	const { kernel, timer } = draft.derivation;
	const tickRate = kernel!.div(Rational.int(best.prescale));
	const most = largest(timer!.width);
	const duties = own.map(({ value }) => offset.add(amplitude.mul(value)));
	checkRowsInside(draft, duties);
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
		rows.push({ ...tableRows(counting, reload, rule, [duties[k]])![0], reload, second: undefined });
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
	counting: Counting,
	wish: Hertz,
	tolerance: Rational | undefined,
	rectified: boolean
): void {
	const tick = best.hz.inverse().div(Rational.int(best.ticks));
	const ticks = rows.reduce((sum, { reload }) => sum + (reload === undefined ? best.ticks : periodTicks(counting, reload)!), 0);
	const real = tick.mul(Rational.int(ticks * (rectified ? 2 : 1))).inverse();
	const ppm = ppmError(real, wish);
	draft.figure('base', real, 'Hz');
	draft.figure('base-error', ppm, 'ppm');
	draft.figure('rows', Rational.int(rows.length), '');
	if (tolerance && ppm.abs().compare(tolerance) > 0) draft.fault({ code: 'base-outside', ppm, tolerance, hz: real, wish });
}

/** The rows with their rounding, and which period each acts on. */
function tellRows(draft: DerivationDraft, aim: TableAim, rows: readonly Row[], lag: number): void {
	const { derivation } = draft;
	const compares = rows.map(({ compare }) => compare);
	const worst = rows.reduce(
		(most, { duty, wished }) => (duty.sub(wished).abs().compare(most) > 0 ? duty.sub(wished).abs() : most),
		Rational.zero
	);
	draft.figure('rounding', worst, '%');
	draft.figure('steps', Rational.int(new Set(compares).size), '');
	// Row 0 stands from the start; row k is written at update k, and a buffered one acts an update later.
	const late = aim.writes === 'buffered' ? (aim.prefill === 'yes' ? 0 : 1) : lag > 0 ? null : 0;
	const acts = (k: number): TableCell => {
		if (k === 0) return late === 1 ? '0, 1' : '0';
		return late === null ? { code: 'under-way', period: k } : Rational.int(k + late);
	};
	const two = rows.some(({ second }) => second);
	const timed = rows.some(({ reload }) => reload !== undefined);
	derivation.table = {
		columns: [
			{ name: 'row', unit: '' },
			{ name: 'wished-duty', unit: '%' },
			...(timed ? [{ name: 'reload', unit: '' }] : []),
			{ name: 'compare', unit: '' },
			...(two ? [{ name: 'second-compare', unit: '' }] : []),
			{ name: 'duty', unit: '%' },
			{ name: 'rounding', unit: '%' },
			{ name: 'acts-on', unit: '' }
		],
		rows: rows.map((row, k) => ({
			values: [
				Rational.int(k),
				row.wished,
				...(timed ? [Rational.int(row.reload!)] : []),
				Rational.int(row.compare),
				...(two ? [Rational.int(row.second!.compare)] : []),
				row.duty,
				row.duty.sub(row.wished),
				acts(k)
			],
			chosen: false
		}))
	};
	derivation.run.rows = rows.map(({ compare, second, reload }) => ({
		compare: { [aim.channel]: compare, ...(second && { [aim.second]: second.compare }) },
		...(reload !== undefined && { reload })
	}));
	const every = Math.ceil(rows.length / MOST_DRAWN);
	const points = (of: (row: Row) => Rational): [number, number][] =>
		rows.flatMap((row, k) => (k % every === 0 ? [[k, of(row).toNumber() * 100] satisfies [number, number]] : []));
	derivation.charts = [
		{
			code: 'rows',
			series: [
				{ label: two ? 'first' : 'duty', points: points(({ duty }) => duty) },
				...(two ? [{ label: 'second', points: points(({ second }) => second!.duty) }] : [])
			]
		}
	];
}

/** Numbers of -1 to 1 or percents, a row a line; a second column is the row's period. Commas, semicolons, tabs or spaces part the columns. */
function readOwn(draft: DerivationDraft, text: string): OwnRow[] | undefined {
	const lines = text.split(/\r\n|\n|\r/).map((line) => line.trim());
	const rows: OwnRow[] = [];
	for (const [i, line] of lines.entries()) {
		if (line === '' || line.startsWith('#')) continue;
		const [value, period] = line.split(/\s*[,;\t]\s*/);
		const read = readQuantity(value);
		const time = period === undefined || period === '' ? undefined : readRate(period);
		const good = read.ok && ['number', 'ratio'].includes(read.quantity.dimension) && (!time || time.ok);
		if (!good && i === 0) continue;
		if (!good) {
			draft.fault({ code: 'row-unread', row: i + 1 });
			return undefined;
		}
		rows.push({ value: read.quantity.value, period: time?.ok ? time.value.inverse() : undefined });
		if (rows.length > MOST_TABLE_ROWS) break;
	}
	if (rows.length >= 2 && rows.length <= MOST_TABLE_ROWS) return rows;
	if (rows.length < 2) draft.fault({ code: 'rows-too-few', rows: Rational.int(rows.length) });
	else draft.fault({ code: 'rows-too-many', rows: Rational.int(rows.length), limit: MOST_TABLE_ROWS });
	return undefined;
}

/** The own shape at a share of its period, on straight lines between its values. */
function ownAt(own: readonly OwnRow[], share: Rational): Rational {
	const place = share.mul(Rational.int(own.length));
	const at = Number(place.floor()) % own.length;
	const rest = place.sub(Rational.of(place.floor()));
	const { value } = own[at];
	return value.add(own[(at + 1) % own.length].value.sub(value).mul(rest));
}
