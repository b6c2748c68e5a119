import { holdDump, type DumpWords, type HandOff, type HeldDump } from '../../core/handoff/index.js';
import { keep, kept } from './kept.js';

/** The dump that lies beside a plan in this browser, as it was typed, and what its reader said of it. */
export interface KeptDump {
	text: string;
	base: string;
	hex: boolean;
	grouped?: DumpWords['grouped'];
}

const keyOf = (plan: string) => `nolvet-handoff ${plan}`;

export function keptDump(plan: string): KeptDump {
	const left = kept(keyOf(plan));
	const { text, base, hex, grouped } = typeof left === 'object' && left !== null ? (left as Record<string, unknown>) : {};
	return {
		text: typeof text === 'string' ? text : '',
		base: typeof base === 'string' ? base : '',
		hex: hex === true,
		...(grouped === 'bytes' || grouped === 'words' ? { grouped } : {})
	};
}

export function keepDump(plan: string, dump: KeptDump): void {
	keep(keyOf(plan), dump);
}

/** It laid on the plan's registers; undefined where there is none. */
export function heldDump(of: HandOff, { text, base, hex, grouped }: KeptDump): HeldDump | undefined {
	if (text.trim() === '') return undefined;
	const first = base.trim() === '' ? NaN : Number(base);
	return holdDump(of, text, { hex, ...(grouped && { grouped }), ...(Number.isSafeInteger(first) && { base: first }) });
}
