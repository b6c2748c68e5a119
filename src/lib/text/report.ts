import type { AimDerivation } from '../../core/aims/index.js';
import type { Finding } from '../../core/check/index.js';
import { Rational } from '../../core/exact/index.js';
import { registerTable, stepGroups, type HandOff } from '../../core/handoff/index.js';
import type { Plan, PlanDerivation } from '../../core/plan/index.js';
import type { PlainAim, PlainCheck, PlainQuantity } from '../../core/suspects/index.js';
import { OUTCOME } from './bench.js';
import { stepText } from './code.js';
import { nodeName } from './clock.js';
import { figureName } from './figures.js';
import { findingPlace, findingText } from './findings.js';
import { kindWords } from './kinds.js';
import { linkName } from './names.js';
import { hertz, hex, quantityText } from './numbers.js';
import { readQuantityName } from './readings.js';
import { linkText } from './registers.js';
import { damageText, mistakeText, tellText, turnedAroundText, whereText } from './suspects.js';
import { roleText } from './bench.js';

/** What a report is made from. */
export interface ReportOf {
	plan: Plan;
	derivation: PlanDerivation;
	findings: readonly Finding[];
	/** Left out: nothing was held against the plan. */
	check?: PlainCheck;
	revision: number;
	/** Of the revision, as it is to be told. */
	date: string;
	recordingName: (id: string) => string;
	/** Set-up and registers; left out: the part has none. */
	handOff?: HandOff;
	/** A picture of each aim's waves, as SVG. */
	waves?: ReadonlyMap<string, string>;
}

/** A plan with its derivations, verdicts, suspects and findings as Markdown: the same text for the same plan and check. */
export function reportMarkdown(of: ReportOf): string {
	const { plan, derivation, revision, date } = of;
	const lines = [
		`# ${escaped(plan.name)}`,
		'',
		`Part ${escaped(plan.part.name)}, revision ${revision}, ${date}.`,
		...(plan.note.trim() === '' ? [] : ['', escaped(plan.note.trim())]),
		'',
		...verdictLines(of),
		'## Aims',
		'',
		...derivation.aims.flatMap((one) => aimLines(of, one)),
		...suspectLines(of),
		...handOffLines(of),
		...findingLines(of)
	];
	return `${lines.join('\n').trimEnd()}\n`;
}

/** Signs that mean something to Markdown. */
function escaped(text: string): string {
	return text.replaceAll(/[\\`*_[\]<>|#]/g, (sign) => `\\${sign}`).replaceAll(/\s*\n\s*/g, ' ');
}

/** A picture within the text. */
function svgUrl(svg: string): string {
	const coded = encodeURIComponent(svg).replaceAll(/[()'!*]/g, (sign) => `%${sign.charCodeAt(0).toString(16)}`);
	return `data:image/svg+xml,${coded}`;
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

function row(cells: readonly string[]): string {
	return `| ${cells.join(' | ')} |`;
}

function table(head: readonly string[], rows: readonly (readonly string[])[]): string[] {
	return rows.length === 0 ? [] : [row(head), row(head.map(() => '---')), ...rows.map(row), ''];
}

const both = ({ as_set, verdict }: { as_set: PlainAim['as_set']; verdict: PlainAim['verdict'] }) =>
	`as set ${OUTCOME[as_set].toLowerCase()}, as wished ${OUTCOME[verdict].toLowerCase()}`;

function verdictLines({ check, recordingName }: ReportOf): string[] {
	if (!check) return ['Nothing was recorded or read yet.', ''];
	return [
		'## Verdict',
		'',
		`**${OUTCOME[check.verdict]}** (${both(check)}).`,
		'',
		...table(
			['aim', 'as set', 'as wished'],
			check.aims.map((aim) => [escaped(aim.name), OUTCOME[aim.as_set].toLowerCase(), OUTCOME[aim.verdict].toLowerCase()])
		),
		...check.damage.flatMap((one) => [`- ${escaped(recordingName(one.recording))}: ${escaped(damageText(one))}.`]),
		...(check.damage.length > 0 ? [''] : [])
	];
}

function aimLines({ plan, check, waves }: ReportOf, one: AimDerivation): string[] {
	const { aim, clock, strip, figures } = one;
	const path = clock.map(({ node, hz }) => `${escaped(nodeName(plan, node.id))} ${hz ? hertz(hz, 9) : 'stopped'}`);
	const told = check?.aims.find(({ id }) => id === aim.id);
	return [
		`### ${escaped(aim.name || 'unnamed aim')}`,
		'',
		`${capital(kindWords(aim.kind).offer)} on ${escaped(plan.part.timers.find(({ id }) => id === aim.timer)?.name ?? aim.timer)}.`,
		'',
		...(path.length > 0 ? [`Clock: ${path.join(' → ')}.`, ''] : []),
		...table(
			['link', 'value', 'register'],
			strip.map((link) => [linkName(link.name), linkText(link), link.register ? String(link.register.value) : ''])
		),
		...figures.filter(({ minor }) => !minor).map(({ name, value, unit }) => `- ${figureName(name)}: ${quantityText(value, unit)}`),
		'',
		...(waves?.has(aim.id) ? [`![${escaped(`Waves of ${aim.name}`)}](${svgUrl(waves.get(aim.id)!)})`, ''] : []),
		...(told ? measuredLines(told) : []),
		...(aim.note.trim() === '' ? [] : [escaped(aim.note.trim()), ''])
	];
}

function measuredLines(aim: PlainAim): string[] {
	return [
		`Measured: ${both(aim)}.`,
		'',
		...table(
			['quantity', 'planned', 'measured', 'off by', 'allowed by clock', 'by the aim', 'by the recording'],
			aim.quantities.map(quantityCells)
		)
	];
}

function quantityCells({ of, role, unit, planned, measured, deviation, parts, within }: PlainQuantity): string[] {
	const text = (value: string | null) => (value === null ? '' : quantityText(Rational.parse(value), unit === 'deg' ? '°' : unit, 7));
	const name = `${readQuantityName(of as Parameters<typeof readQuantityName>[0])}${role === 'pin' || role === 'log' ? '' : `, ${roleText(role)}`}`;
	return [
		escaped(name),
		text(planned),
		`${text(measured)}${within === false ? ' **outside**' : ''}`,
		text(deviation),
		parts ? `${text(parts.source[0])} to ${text(parts.source[1])}` : '',
		parts ? text(parts.aim) : '',
		parts ? text(parts.recording) : ''
	];
}

function suspectLines({ check, recordingName, plan }: ReportOf): string[] {
	if (!check || (check.suspects.length === 0 && check.turned.length === 0)) return [];
	const nameOf = (aim: string) => plan.aims.find(({ id }) => id === aim)?.name ?? aim;
	const told = check.suspects.flatMap((one) => {
		const about = one.about?.recording === undefined ? one.about?.aims.map(nameOf).join(', ') : recordingName(one.about.recording);
		const of = about === undefined ? '' : ` (${escaped(about)})`;
		const say = (codes: string[], where: typeof one.where) => `${mistakeText(codes)}: ${escaped(where.map(whereText).join('; '))}`;
		const tell = tellText(one.tell, 0);
		return [
			`- ${one.explains ? 'Explains it' : 'Comes near'}${of}: ${say(one.codes, one.where)}.`,
			...one.ties.map((tie) => `  - not to be told apart here: ${say(tie.codes, tie.where)}.`),
			...(tell === '' ? [] : [`  - ${escaped(tell)}`])
		];
	});
	const turned = check.turned.map((one) => `- ${escaped(nameOf(one.aim))}: ${turnedAroundText({ ...one, tick: one.tick_s, line: 0 })}.`);
	return ['## Suspects', '', ...told, ...turned, ''];
}

/** The set-up step by step, and what registers come to. */
function handOffLines({ handOff }: ReportOf): string[] {
	if (!handOff || handOff.accesses.length === 0) return [];
	const steps = stepGroups(handOff.accesses).map(({ unit, step, accesses }, i) => {
		const told = accesses.flatMap((access) => {
			if (access.do === 'read') return [];
			const under = access.mask === 2 ** access.bits - 1 ? '' : ` of ${hex(access.mask, access.bits)}`;
			return [`${access.reg} ${access.do === 'wait' ? 'is' : '←'} ${hex(access.value, access.bits)}${under}`];
		});
		return `${i + 1}. ${escaped(unit)}: ${stepText(step)}: ${escaped(told.join(', '))}`;
	});
	const rows = registerTable(handOff).map(([name, address, , value, decimal, , , fields]) =>
		[name, address, value, decimal, fields].map(escaped)
	);
	return ['## Set-up', '', ...steps, '', '## Registers', '', ...table(['register', 'address', 'value', 'decimal', 'fields'], rows)];
}

function findingLines({ findings, plan }: ReportOf): string[] {
	if (findings.length === 0) return [];
	return [
		'## Findings',
		'',
		...findings.map((one) => `- ${one.severity}: ${escaped(findingPlace(one, plan))}: ${escaped(findingText(one))}`),
		''
	];
}
