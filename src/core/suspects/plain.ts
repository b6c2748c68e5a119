import type { AlignedLine } from '../align/index.js';
import type { JudgedQuantity, Outcome } from '../check/index.js';
import type { Rational } from '../exact/index.js';
import type { Plan } from '../plan/index.js';
import type { Where } from './change.js';
import type { Compared } from './compare.js';
import type { Course } from './course.js';
import type { Damage } from './damage.js';
import type { Guess, Suspect } from './find.js';
import type { Laid } from './laying.js';
import type { CheckedLog } from './logs.js';
import type { CheckedAim, WholeCheck } from './whole.js';
import type { Weighed } from './weigh.js';

/** A check as plain data, for other programs and other threads: rationals as "num/den", times in seconds. */
export interface PlainCheck {
	verdict: Outcome;
	as_set: Outcome;
	aims: PlainAim[];
	alignment: PlainAlignment[];
	differences: PlainDifference[];
	suspects: PlainSuspect[];
	damage: PlainDamage[];
	turned: PlainTurned[];
	evidence: PlainEvidence;
}

export interface PlainAim {
	id: string;
	name: string;
	verdict: Outcome;
	as_set: Outcome;
	/** Does every line show what is predicted? */
	explained?: boolean;
	reasons: string[];
	quantities: PlainQuantity[];
}

export interface PlainQuantity {
	of: string;
	role: string;
	recording: string;
	line: string;
	unit: string;
	against?: string;
	/** Of a log: what was set, and its unit. */
	set?: string;
	set_unit?: string;
	planned: string | null;
	wish?: string;
	measured: string | null;
	count: number;
	deviation: string | null;
	parts: PlainParts | null;
	within: boolean | null;
	explained: boolean | null;
	shown: boolean | null;
}

export interface PlainParts {
	aim: string;
	source: [string, string];
	rounding: [string, string];
	recording: string;
	instrument: string;
}

export interface PlainAlignment {
	recording: string;
	fits: boolean;
	offset_s: number;
	ratio_ppm: number;
	offset_known_s?: [number, number];
	ratio_known_ppm?: [number, number];
	matched?: number;
	missing?: number;
	extra?: number;
	places?: number;
	/** What source and instrument allow of the ratio. */
	ratio_allowed_ppm: [number, number];
	/** How far matched edges lie from their places: how many in each bin, the first of which begins at `from_s`. */
	errors?: { from_s: number; width_s: number; counts: number[] };
}

export interface PlainDifference {
	recording: string;
	line: string;
	aim: string;
	kind: 'late' | 'early' | 'missing' | 'extra' | 'glitch';
	at_s: number;
	off_s?: number;
}

export interface PlainSuspect {
	codes: string[];
	where: (Where & { aim?: string })[];
	explains: boolean;
	/** The greatest residual: at most 1 explains. null: beyond any. */
	worst: number | null;
	ties: { codes: string[]; where: (Where & { aim?: string })[] }[];
	/** The aims, and the one of several recordings, that it explains; left out: all. */
	about?: { aims: string[]; recording?: string };
	/** What would tell it from the first of its ties. */
	tell: { of: string; line: string; aim: string; role: string; seconds?: number } | null;
}

export interface PlainDamage {
	code: Damage['code'];
	recording: string;
	lines: string[];
	count: number;
	at_s?: number;
}

export interface PlainTurned {
	line: string;
	aim: string;
	of: 'period' | 'high';
	seconds: number;
	tick_s: number;
	ticks: [number, number];
	planned: number;
	timer: string;
}

/** A row of the evidence: a suspect, or one that cannot be told from the suspect above it. */
export interface PlainRow {
	codes: string[];
	where: Where[];
	explains: boolean;
	tie: boolean;
	about?: { aims: string[]; recording?: string };
	cells: (number | null)[];
}

/** Suspects against quantities: signed residuals, null where nothing was measured. The first row is the plan as it stands. */
export interface PlainEvidence {
	columns: { recording: string; line: string; aim: string; role: string; of: Compared['of'] }[];
	rows: PlainRow[];
}

/** What a check comes to as plain data. */
export function plainCheck(
	plan: Plan,
	whole: WholeCheck,
	logs: readonly CheckedLog[],
	{ asSet, asWished }: { asSet: Outcome; asWished: Outcome }
): PlainCheck {
	const { findings, damage, laid, turned, scene } = whole;
	const lineOf = (number: number) => scene.lines[number].witness;
	const nameOf = (aim: string) => plan.aims.find(({ id }) => id === aim)?.name ?? aim;
	return {
		verdict: asWished,
		as_set: asSet,
		aims: [...whole.aims.map((aim) => plainAim(aim, nameOf(aim.aim))), ...logs.map((log) => plainLog(log, nameOf(log.aim)))],
		alignment: laid.map((one) => alignmentOf(one)),
		differences: laid.flatMap((one) => differencesOf(one, lineOf)),
		suspects: [...findings.suspects.map((one) => plainSuspect(one, lineOf)), ...logs.flatMap((log) => logSuspects(log))],
		damage: damage.map(({ code, recording, lines: of, count, at }) => ({
			code,
			recording,
			lines: of,
			count,
			...(at !== undefined && { at_s: at })
		})),
		turned: turned.map(({ line, of, seconds, tick, ticks, planned, timer }) => ({
			line: lineOf(line).line,
			aim: lineOf(line).aim,
			of,
			seconds,
			tick_s: tick,
			ticks,
			planned,
			timer
		})),
		evidence: evidenceOf(whole)
	};
}

function plainAim({ aim, asSet, asWished, quantities, reasons, explained }: CheckedAim, name: string): PlainAim {
	return {
		id: aim,
		name,
		verdict: asWished,
		as_set: asSet,
		...(explained !== undefined && { explained }),
		reasons,
		quantities: quantities.map(plainQuantity)
	};
}

function plainQuantity({
	of,
	role,
	against,
	recording,
	line,
	unit,
	planned,
	measured,
	count,
	asSet,
	asWished
}: JudgedQuantity): PlainQuantity {
	const wished = asWished ?? asSet;
	return {
		of,
		role,
		recording,
		line,
		unit,
		...(against !== undefined && { against }),
		planned: planned.toString(),
		...(asWished && { wish: asWished.against.toString() }),
		measured: measured?.toString() ?? null,
		count,
		deviation: asSet?.deviation.toString() ?? null,
		parts: wished ? partsOf(wished.budget) : null,
		within: wished?.within ?? null,
		explained: asSet?.explained ?? null,
		shown: wished?.shown ?? null
	};
}

function partsOf({ aim, source, rounding, recording, instrument }: NonNullable<JudgedQuantity['asSet']>['budget']): PlainParts {
	const both = ([low, high]: readonly [Rational, Rational]): [string, string] => [low.toString(), high.toString()];
	return {
		aim: aim.toString(),
		source: both(source),
		rounding: both(rounding),
		recording: recording.toString(),
		instrument: instrument.toString()
	};
}

function plainLog({ aim, outcome, judged: { relation, rows } }: CheckedLog, name: string): PlainAim {
	return {
		id: aim,
		name,
		verdict: outcome,
		as_set: outcome,
		reasons: [],
		quantities: rows.map(({ set, read, planned, deviation, budget, explained }) => ({
			of: relation.id,
			role: 'log',
			recording: '',
			line: 'log',
			unit: relation.reads.unit,
			set: set.toString(),
			set_unit: relation.set.unit,
			planned: planned ? planned[0].toString() : null,
			measured: read.toString(),
			count: 1,
			deviation: deviation?.toString() ?? null,
			parts: budget ? partsOf(budget) : null,
			within: explained ?? null,
			explained: explained ?? null,
			shown: null
		}))
	};
}

function alignmentOf({ recording, found, ratio: allowed, budget }: Laid): PlainAlignment {
	const { offset, ratio } = found.laying;
	const ppm = (one: number) => (one - 1) * 1e6;
	const both = ([low, high]: readonly [number, number]): [number, number] => [ppm(low), ppm(high)];
	const frame = { recording, fits: found.fits, offset_s: offset, ratio_ppm: ppm(ratio), ratio_allowed_ppm: both(allowed) };
	if (!found.fits) return frame;
	const count = (of: (line: AlignedLine) => number) => found.lines.reduce((sum, line) => sum + of(line), 0);
	return {
		...frame,
		offset_known_s: found.offsetKnown,
		ratio_known_ppm: both(found.ratioKnown),
		matched: count(({ matched }) => matched.count),
		missing: count(({ missing }) => missing.length),
		extra: count(({ extra }) => extra.length),
		places: 1 + found.others.length,
		errors: errorsOf(found.lines, budget)
	};
}

/** Bins of edge errors; further off than all of them is in the outermost. */
const BINS = 41;

function errorsOf(lines: readonly AlignedLine[], budget: number): NonNullable<PlainAlignment['errors']> {
	let furthest = budget;
	for (const { off } of lines) for (const [place, edge] of off) furthest = Math.max(furthest, Math.abs(edge - place));
	const width = (2 * furthest) / BINS;
	const counts = new Array<number>(BINS).fill(0);
	for (const { matched } of lines)
		for (let k = 0; k < matched.count; k++) {
			const bin = Math.floor((matched.edges[k] - matched.places[k] + furthest) / width);
			counts[Math.min(BINS - 1, Math.max(0, bin))]++;
		}
	return { from_s: -furthest, width_s: width, counts };
}

/** Differences of a line that are told one by one, at the most. */
const MOST = 200;

function differencesOf({ recording, found, lines }: Laid, lineOf: (number: number) => { line: string; aim: string }): PlainDifference[] {
	if (!found.fits) return [];
	return found.lines.flatMap((line, i) => {
		const { line: name, aim } = lineOf(lines[i]);
		const glitched = new Set(line.glitches.flat());
		const all: { kind: PlainDifference['kind']; at_s: number; off_s?: number }[] = [
			...line.off.map(([place, edge]) => ({
				kind: edge > place ? ('late' as const) : ('early' as const),
				at_s: place,
				off_s: edge - place
			})),
			...line.missing.map((at_s) => ({ kind: 'missing' as const, at_s })),
			...line.extra.filter((at) => !glitched.has(at)).map((at_s) => ({ kind: 'extra' as const, at_s })),
			...line.glitches.map(([at_s, end]) => ({ kind: 'glitch' as const, at_s, off_s: end - at_s }))
		];
		return all
			.sort((a, b) => a.at_s - b.at_s)
			.slice(0, MOST)
			.map((one) => ({ recording, line: name, aim, ...one }));
	});
}

function plainSuspect(
	{ codes, where, explains, worst, ties, tell, about }: Suspect,
	lineOf: (number: number) => { line: string; aim: string; role: string }
): PlainSuspect {
	return {
		codes,
		where,
		explains,
		worst: Number.isFinite(worst) ? worst : null,
		ties: ties.map((one) => ({ codes: one.codes, where: one.where })),
		...(about && { about }),
		tell: tell
			? {
					of: tell.of,
					line: lineOf(tell.line).line,
					aim: lineOf(tell.line).aim,
					role: lineOf(tell.line).role,
					...(tell.seconds !== undefined && { seconds: tell.seconds })
				}
			: null
	};
}

/** Suspects of a log: those that explain it cannot be told apart. */
function logSuspects({ suspects, aim }: CheckedLog): PlainSuspect[] {
	const [first, ...more] = suspects;
	if (!first) return [];
	const entry = (one: typeof first, ties: typeof more): PlainSuspect => ({
		codes: [one.code],
		where: [{ ...one.where, aim }],
		explains: one.explains,
		worst: Number.isFinite(one.worst) ? one.worst : null,
		ties: ties.map((tie) => ({ codes: [tie.code], where: [{ ...tie.where, aim }] })),
		tell: null
	});
	if (!first.explains) return suspects.map((one) => entry(one, []));
	return [
		entry(
			first,
			more.filter(({ explains }) => explains)
		),
		...more.filter(({ explains }) => !explains).map((one) => entry(one, []))
	];
}

/** Rows of the table, and those that cannot be told from one, at the most. */
const [MOST_ROWS, MOST_TIES] = [24, 5];

interface Told {
	guess: Guess;
	suspect: Suspect;
	tie: boolean;
}

/** Suspects, each with those that cannot be told from it behind it. */
function toldOf({ suspects }: WholeCheck['findings']): Told[] {
	return suspects
		.flatMap((suspect): Told[] => [
			{ guess: suspect, suspect, tie: false },
			...suspect.ties.slice(0, MOST_TIES).map((guess) => ({ guess, suspect, tie: true }))
		])
		.slice(0, MOST_ROWS);
}

/** What a mistake would make of one recorded line. */
export interface SuspectWave {
	recording: string;
	line: string;
	aim: string;
	role: string;
	course: Course;
	/** What its clock may be off by then, in ppm; left out: what the plan's may. */
	ppm?: readonly [number, number];
}

/** The waves that each row of the evidence predicts of the lines that it changes; none for the plan as it stands, and for a mistake of a recording. */
export function suspectWaves({ scene, findings }: WholeCheck): SuspectWave[][] {
	const wavesOf = ({ guess: { weighed, changed } }: Told) =>
		[...weighed].flatMap(([group, { lines, courses }]) =>
			lines.flatMap((number, i): SuspectWave[] => {
				const { recording, line, aim, role } = scene.lines[number].witness;
				const course = courses[i];
				const ppm = changed.get(group)?.ppm;
				return course && !scene.lines[number].reading ? [{ recording, line, aim, role, course, ...(ppm && { ppm }) }] : [];
			})
		);
	return [[], ...toldOf(findings).map(wavesOf)];
}

function evidenceOf({ scene, findings }: WholeCheck): PlainEvidence {
	const key = ({ line, of }: Compared) => `${line} ${of}`;
	const cellsOf = (all: Iterable<Weighed>) => {
		const cells = new Map<string, number>();
		for (const one of all) one.all.forEach((each, i) => cells.set(key(each), signed(each, one.residuals[i])));
		return cells;
	};
	const rowOf = ({ guess: { codes, where, weighed }, suspect: { explains, about }, tie }: Told) => {
		// One that speaks of a part says nothing of the rest.
		const others = about ? [] : scene.groups.flatMap(({ number }) => (weighed.has(number) ? [] : [findings.base[number]]));
		return { codes, where, explains, tie, ...(about && { about }), cells: cellsOf([...others, ...weighed.values()]) };
	};
	const plan = { codes: [], where: [], explains: findings.explained, tie: false, cells: cellsOf(findings.base) };
	const rows = [plan, ...toldOf(findings).map(rowOf)];
	// What the plan does not explain stands first.
	const far = (name: string) => Number(Math.abs(plan.cells.get(name) ?? 0) <= 1);
	const lineFar = (name: string) =>
		Math.min(...[...plan.cells.keys()].filter((other) => other.split(' ')[0] === name.split(' ')[0]).map(far), 1);
	const names = [...new Set(rows.flatMap(({ cells }) => [...cells.keys()]))].sort((a, b) => lineFar(a) - lineFar(b));
	const columns = names.map((name) => {
		const [line, of] = name.split(' ') as [string, Compared['of']];
		const { recording, line: title, aim, role } = scene.lines[Number(line)].witness;
		return { recording, line: title, aim, role, of };
	});
	return { columns, rows: rows.map(({ cells, ...row }) => ({ ...row, cells: names.map((name) => cells.get(name) ?? null) })) };
}

/** A residual with the sign of its deviation; what is beyond any is told as a very large one. */
function signed({ measured, predicted }: Compared, residual: number): number {
	const most = Math.min(residual, 1e9);
	return measured < predicted ? -most : most;
}
