import type { Plan } from '../plan/index.js';

const [OFFSET, PRIME, MASK] = [0xcbf29ce484222325n, 0x100000001b3n, 0xffffffffffffffffn];

/** FNV-1a of a text's code units in 64 bits, as hexadecimal: tells states of a plan apart, and proves nothing. */
export function hashOf(text: string): string {
	let hash = OFFSET;
	for (let i = 0; i < text.length; i++) {
		hash ^= BigInt(text.charCodeAt(i));
		hash = (hash * PRIME) & MASK;
	}
	return hash.toString(16).padStart(16, '0');
}

/** What everything that is handed off carries: revision and date where the plan's file says them, and a hash of the plan. */
export function markOf(plan: Plan, made = plan.made): string {
	const { made: _, ...rest } = plan;
	const hash = hashOf(JSON.stringify(rest));
	return made ? `revision ${made.revision} of ${made.date}, ${hash}` : hash;
}
