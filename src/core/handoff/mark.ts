import type { Plan } from '../plan/index.js';

const [OFFSET, OTHER, PRIME] = [0x811c9dc5, 0x9747b28c, 0x01000193];

/** FNV-1a of a text's code units in 32 bits, from two beginnings, as hexadecimal: tells states of a plan apart, and proves nothing. */
export function hashOf(text: string): string {
	let [first, second] = [OFFSET, OTHER];
	for (let i = 0; i < text.length; i++) {
		const unit = text.charCodeAt(i);
		first = Math.imul(first ^ unit, PRIME);
		second = Math.imul(second ^ unit, PRIME);
	}
	const hex = (hash: number) => (hash >>> 0).toString(16).padStart(8, '0');
	return hex(first) + hex(second);
}

/** The same with the keys of every object in one order: however a plan was stored, it is the same state. */
function inOrder(value: unknown): unknown {
	if (Array.isArray(value)) return value.map(inOrder);
	if (value === null || typeof value !== 'object') return value;
	const entries = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1));
	return Object.fromEntries(entries.map(([key, one]) => [key, inOrder(one)]));
}

/** What everything that is handed off carries: revision and date where the plan's file says them, and a hash of the plan. */
export function markOf(plan: Plan, made = plan.made): string {
	const { made: _, ...rest } = plan;
	const hash = hashOf(JSON.stringify(inOrder(rest)));
	return made ? `revision ${made.revision} of ${made.date}, ${hash}` : hash;
}
