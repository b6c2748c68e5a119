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

/** Parts of a plan stay the same objects from edit to edit, the profile of its chip above all: their texts are made once. */
const texts = new WeakMap<object, string>();

function textOf(value: unknown): string {
	if (typeof value !== 'object' || value === null) return JSON.stringify(value);
	const text = texts.get(value) ?? JSON.stringify(inOrder(value));
	texts.set(value, text);
	return text;
}

/** What everything that is handed off carries: revision and date where the plan's file says them, and a hash of the plan. */
export function markOf(plan: Plan, made = plan.made): string {
	const { made: _, ...rest } = plan;
	const entries = Object.entries(rest).filter(([, value]) => value !== undefined);
	const parts = entries.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, value]) => `${JSON.stringify(key)}:${textOf(value)}`);
	const hash = hashOf(`{${parts.join(',')}}`);
	return made ? `revision ${made.revision} of ${made.date}, ${hash}` : hash;
}
