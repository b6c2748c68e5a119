import type { JudgedQuantity } from '../core/check/index.js';
import type { AlignedLine } from '../core/align/index.js';
import type { Rational } from '../core/exact/index.js';
import type { CheckedAim, CheckedLog, Laid, Suspect } from '../core/suspects/index.js';
import { damageText, mistakeText, quantityText, turnedAroundText, whereText, OUTCOME } from '../lib/text/index.js';
import { commandText } from '../lib/text/index.js';
import type { Checked } from './check.js';
import type { CheckOutput } from './shapes.js';

type AimOutput = CheckOutput['aims'][number];

/** What a check prints with --json. */
export function checkOutput({ plan, whole, logs, lines, asSet, asWished }: Checked): CheckOutput {
	const { findings, damage, laid, turned, scene } = whole;
	const lineOf = (number: number) => scene.lines[number].witness;
	return {
		format: 'nolvet-check',
		version: 1,
		plan: plan.name,
		verdict: asWished,
		as_set: asSet,
		lines: lines.map(({ file, line, map, guessed }) => ({ file, line, guessed, ...(map && { aim: map.aim, role: map.role }) })),
		aims: [...whole.aims.map((aim) => aimOutput(aim, plan.aims.find(({ id }) => id === aim.aim)!.name)), ...logs.map((log) => logOutput(log, plan.aims.find(({ id }) => id === log.aim)!.name))],
		alignment: laid.map((one) => alignmentOf(one)),
		differences: laid.flatMap((one) => differencesOf(one, lineOf)),
		suspects: [...findings.suspects.map((one) => suspectOutput(one, lineOf)), ...logs.flatMap((log) => logSuspects(log))],
		damage: damage.map(({ code, recording, lines: of, count, at }) => ({ code, recording, lines: of, count, ...(at !== undefined && { at_s: at }) })),
		turned: turned.map(({ line, of, seconds, tick, ticks, planned, timer }) => ({
			line: lineOf(line).line,
			aim: lineOf(line).aim,
			of,
			seconds,
			tick_s: tick,
			ticks,
			planned,
			timer
		}))
	};
}

function aimOutput({ aim, asSet, asWished, quantities, reasons, explained }: CheckedAim, name: string): AimOutput {
	return {
		id: aim,
		name,
		verdict: asWished,
		as_set: asSet,
		...(explained !== undefined && { explained }),
		reasons,
		quantities: quantities.map(quantityOutput)
	};
}

function quantityOutput({ of, role, against, line, unit, planned, measured, count, asSet, asWished }: JudgedQuantity): AimOutput['quantities'][number] {
	const wished = asWished ?? asSet;
	return {
		of,
		role,
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

function partsOf({ aim, source, rounding, recording, instrument }: NonNullable<JudgedQuantity['asSet']>['budget']) {
	const both = ([low, high]: readonly [Rational, Rational]): [string, string] => [low.toString(), high.toString()];
	return { aim: aim.toString(), source: both(source), rounding: both(rounding), recording: recording.toString(), instrument: instrument.toString() };
}

function logOutput({ aim, outcome, judged: { relation, rows } }: CheckedLog, name: string): AimOutput {
	return {
		id: aim,
		name,
		verdict: outcome,
		as_set: outcome,
		reasons: [],
		quantities: rows.map(({ set, read, planned, deviation, budget, explained }) => ({
			of: relation.id,
			role: 'log',
			line: 'log',
			unit: relation.reads.unit,
			set: set.toString(),
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

function alignmentOf({ recording, found }: Laid): CheckOutput['alignment'][number] {
	const { offset, ratio } = found.laying;
	const frame = { recording, fits: found.fits, offset_s: offset, ratio_ppm: (ratio - 1) * 1e6 };
	if (!found.fits) return frame;
	const count = (of: (line: AlignedLine) => number) => found.lines.reduce((sum, line) => sum + of(line), 0);
	return {
		...frame,
		offset_known_s: found.offsetKnown,
		ratio_known_ppm: found.ratioKnown.map((one) => (one - 1) * 1e6) as [number, number],
		matched: count(({ matched }) => matched.length),
		missing: count(({ missing }) => missing.length),
		extra: count(({ extra }) => extra.length),
		places: 1 + found.others.length
	};
}

/** Differences of a line that are told one by one, at the most. */
const MOST = 200;

function differencesOf({ found, lines }: Laid, lineOf: (number: number) => { line: string; aim: string }): CheckOutput['differences'] {
	if (!found.fits) return [];
	return found.lines.flatMap((line, i) => {
		const { line: name, aim } = lineOf(lines[i]);
		const glitched = new Set(line.glitches.flat());
		const all: { kind: CheckOutput['differences'][number]['kind']; at_s: number; off_s?: number }[] = [
			...line.off.map(([place, edge]) => ({ kind: edge > place ? ('late' as const) : ('early' as const), at_s: place, off_s: edge - place })),
			...line.missing.map((at_s) => ({ kind: 'missing' as const, at_s })),
			...line.extra.filter((at) => !glitched.has(at)).map((at_s) => ({ kind: 'extra' as const, at_s })),
			...line.glitches.map(([at_s, end]) => ({ kind: 'glitch' as const, at_s, off_s: end - at_s }))
		];
		return all
			.sort((a, b) => a.at_s - b.at_s)
			.slice(0, MOST)
			.map((one) => ({ line: name, aim, ...one }));
	});
}

type SuspectOutput = CheckOutput['suspects'][number];

function suspectOutput({ codes, where, explains, worst, ties, tell }: Suspect, lineOf: (number: number) => { line: string; aim: string; role: string }): SuspectOutput {
	return {
		codes,
		where,
		explains,
		worst: Number.isFinite(worst) ? worst : null,
		ties: ties.map((one) => ({ codes: one.codes, where: one.where })),
		tell: tell ? { of: tell.of, line: lineOf(tell.line).line, aim: lineOf(tell.line).aim, role: lineOf(tell.line).role, ...(tell.seconds !== undefined && { seconds: tell.seconds }) } : null
	};
}

/** Suspects of a log: those that explain it cannot be told apart. */
function logSuspects({ suspects, aim }: CheckedLog): SuspectOutput[] {
	const [first, ...more] = suspects;
	if (!first) return [];
	const entry = (one: typeof first, ties: typeof more): SuspectOutput => ({
		codes: [one.code],
		where: [{ ...one.where, aim }],
		explains: one.explains,
		worst: Number.isFinite(one.worst) ? one.worst : null,
		ties: ties.map((tie) => ({ codes: [tie.code], where: [{ ...tie.where, aim }] })),
		tell: null
	});
	if (!first.explains) return suspects.map((one) => entry(one, []));
	return [entry(first, more.filter(({ explains }) => explains)), ...more.filter(({ explains }) => !explains).map((one) => entry(one, []))];
}

/** What a check says without --json. */
export function checkTold({ plan, whole, logs, lines, asSet, asWished }: Checked): string[] {
	const out: string[] = [];
	for (const { file, line, map, guessed } of lines)
		out.push(map ? `${file}:${line} = ${map.aim}/${map.role}${guessed ? ` (${commandText.guessed})` : ''}` : commandText.unmapped(`${file}:${line}`));
	const nameOf = (aim: string) => plan.aims.find(({ id }) => id === aim)!.name;
	for (const aim of whole.aims) {
		out.push(`${nameOf(aim.aim)}: ${commandText.both(OUTCOME[aim.asSet].toLowerCase(), OUTCOME[aim.asWished].toLowerCase())}`);
		for (const one of aim.quantities) out.push(`  ${quantityLine(one)}`);
	}
	for (const { aim, outcome, judged } of logs)
		out.push(`${nameOf(aim)}: ${commandText.logRows(judged.rows.length, judged.rows.filter(({ explained }) => explained === false).length, OUTCOME[outcome].toLowerCase())}`);
	for (const one of whole.damage) out.push(damageText(one));
	for (const one of whole.turned) out.push(turnedAroundText(one));
	for (const one of whole.findings.suspects) {
		out.push(`${one.explains ? commandText.explains : commandText.nearly}: ${mistakeText(one.codes)} (${one.where.map(whereText).join('; ')})`);
		for (const tie of one.ties) out.push(`  ${commandText.tied}: ${mistakeText(tie.codes)} (${tie.where.map(whereText).join('; ')})`);
	}
	for (const { suspects } of logs)
		for (const one of suspects.filter(({ explains }, i) => explains || i < 3))
			out.push(`${one.explains ? commandText.explains : commandText.nearly}: ${mistakeText([one.code])} (${whereText(one.where)})`);
	out.push(commandText.both(OUTCOME[asSet].toLowerCase(), OUTCOME[asWished].toLowerCase()));
	return out;
}

function quantityLine({ of, role, against, unit, planned, measured, asSet }: JudgedQuantity): string {
	const name = `${role} ${of}${against === undefined ? '' : ` from ${against}`}`;
	if (!measured) return `${name}: planned ${quantityText(planned, unit)}, nothing measured`;
	return `${name}: planned ${quantityText(planned, unit)}, measured ${quantityText(measured, unit)}${asSet?.explained === false ? ', not explained' : ''}`;
}
