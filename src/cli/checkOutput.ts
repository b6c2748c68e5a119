import type { JudgedQuantity } from '../core/check/index.js';
import { dumpSays, suspectedOf } from '../core/handoff/index.js';
import { plainCheck } from '../core/suspects/index.js';
import {
	commandText,
	damageText,
	dumpSaysText,
	mistakeText,
	OUTCOME,
	quantityText,
	turnedAroundText,
	whereText
} from '../lib/text/index.js';
import type { Checked } from './check.js';
import type { CheckOutput } from './shapes.js';

/** As much of a suspect as a dump is asked about. */
type Told = Parameters<typeof suspectedOf>[1];

/** What a check prints with --json. */
export function checkOutput({ plan, whole, logs, lines, asSet, asWished, dump }: Checked): CheckOutput {
	const plain = plainCheck(plan, whole, logs, { asSet, asWished });
	const saying = <T extends Told>(one: T, about: Told['about']) => {
		const says = dump && dumpSays(dump, suspectedOf(plan, { ...one, about }));
		return { ...one, ...(says && { dump: says.word }) };
	};
	return {
		format: 'nolvet-check',
		version: 1,
		plan: plan.name,
		lines: lines.map(({ file, line, map, guessed }) => ({ file, line, guessed, ...(map && { aim: map.aim, role: map.role }) })),
		...plain,
		suspects: plain.suspects.map((one) => ({ ...saying(one, one.about), ties: one.ties.map((tie) => saying(tie, one.about)) }))
	};
}

/** What a check says without --json. */
export function checkTold({ plan, whole, logs, lines, asSet, asWished, dump }: Checked): string[] {
	const out: string[] = [];
	const tellDump = (one: Told, about: Told['about']) => {
		const says = dump && dumpSays(dump, suspectedOf(plan, { ...one, about }));
		if (says) out.push(`  ${dumpSaysText(says)}`);
	};
	for (const { file, line, map, guessed } of lines)
		out.push(
			map
				? `${file}:${line} = ${map.aim}/${map.role}${guessed ? ` (${commandText.guessed})` : ''}`
				: commandText.unmapped(`${file}:${line}`)
		);
	const nameOf = (aim: string) => plan.aims.find(({ id }) => id === aim)!.name;
	for (const aim of whole.aims) {
		out.push(`${nameOf(aim.aim)}: ${commandText.both(OUTCOME[aim.asSet].toLowerCase(), OUTCOME[aim.asWished].toLowerCase())}`);
		for (const one of aim.quantities) out.push(`  ${quantityLine(one)}`);
	}
	for (const { aim, outcome, judged } of logs)
		out.push(
			`${nameOf(aim)}: ${commandText.logRows(judged.rows.length, judged.rows.filter(({ explained }) => explained === false).length, OUTCOME[outcome].toLowerCase())}`
		);
	for (const one of whole.damage) out.push(damageText(one));
	for (const one of whole.turned) out.push(turnedAroundText(one));
	for (const one of whole.findings.suspects) {
		out.push(
			`${one.explains ? commandText.explains : commandText.nearly}: ${mistakeText(one.codes)} (${one.where.map(whereText).join('; ')})`
		);
		tellDump(one, one.about);
		for (const tie of one.ties) {
			out.push(`  ${commandText.tied}: ${mistakeText(tie.codes)} (${tie.where.map(whereText).join('; ')})`);
			tellDump(tie, one.about);
		}
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
