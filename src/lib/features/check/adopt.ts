import { joinSteps, setStep, type Plan, type Step } from '../../../core/plan/index.js';
import type { PlainSuspect } from '../../../core/suspects/index.js';
import { mistakeText, whereText } from '../../text/index.js';

/** What taking a suspect does: the plan as the hardware runs where clock or probe are to blame, else a note for the firmware. */
export interface Adoption {
	kind: 'clock' | 'mapping' | 'note';
	/** The step, which can be undone. */
	step: Step;
}

const LONGEST_NOTE = 4000;

/** Takes a suspect; undefined where there is nothing to be changed or noted. `aim`: the one that it is first told of. */
export function adopt(plan: Plan, { codes, where }: Pick<PlainSuspect, 'codes' | 'where'>, aim: string | undefined): Adoption | undefined {
	const clock = where.find((one) => one.clock)?.clock;
	if (clock) return { kind: 'clock', step: setStep(plan, ['clock'], clock, 'take the clock as the pins show it') };
	if (codes[0] === 'swapped-channels') return swapped(plan, String(where[0].found));
	const index = plan.aims.findIndex(({ id, timer }) => (aim === undefined ? where.some((one) => one.timer === timer) : id === aim));
	if (index < 0) return undefined;
	const { note } = plan.aims[index];
	const said = `${mistakeText(codes)}: ${where.map(whereText).join('; ')}.`;
	const next = [note.trimEnd(), said].filter((text) => text !== '').join('\n');
	if (next.length > LONGEST_NOTE) return undefined;
	return { kind: 'note', step: setStep(plan, ['aims', index, 'note'], next, 'note a mistake for the firmware') };
}

/** Two channels of a recorder that were exchanged are mapped the other way round. */
function swapped(plan: Plan, lines: string): Adoption | undefined {
	const [a, b] = lines.split(', ').map((line) => plan.mappings.findIndex((one) => one.line === line));
	if (a === undefined || b === undefined || a < 0 || b < 0) return undefined;
	const [first, second] = [plan.mappings[a], plan.mappings[b]];
	const steps = [setStep(plan, ['mappings', a, 'line'], second.line, ''), setStep(plan, ['mappings', b, 'line'], first.line, '')];
	return { kind: 'mapping', step: joinSteps('exchange two channels', steps) };
}
