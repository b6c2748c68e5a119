import { factorAllowed, resetSetting, type ClockNodeProfile } from '../../../core/part/index.js';
import type { Plan } from '../../../core/plan/index.js';
import { readClockFactor, readFrequency } from '../../../core/aims/index.js';
import { factorsText, problemText } from '../../text/index.js';
import { frequencyText, settingText } from './nodes.js';

/** What the field of a node shows: as typed, or the setting at reset. */
export function typedClock(plan: Plan, node: ClockNodeProfile): string {
	if (Object.hasOwn(plan.clock, node.id)) return plan.clock[node.id];
	const setting = resetSetting(node);
	if (setting === undefined) return '';
	return node.kind === 'source' ? frequencyText(setting as Parameters<typeof frequencyText>[0]) : settingText(setting);
}

/** Why a node's typed setting makes no sense, or is not offered; undefined when it is fine. */
export function clockProblem(plan: Plan, node: ClockNodeProfile): string | undefined {
	if (!Object.hasOwn(plan.clock, node.id)) return undefined;
	const typed = plan.clock[node.id];
	if (node.kind === 'source') {
		const read = readFrequency(typed);
		return read.ok ? undefined : problemText(read.problem);
	}
	if (node.kind !== 'divide' && node.kind !== 'multiply') return undefined;
	const read = readClockFactor(typed);
	if (!read.ok) return problemText(read.problem);
	return factorAllowed(node.by, read.value) ? undefined : `Not offered here; ${factorsText(node.by)} is.`;
}
