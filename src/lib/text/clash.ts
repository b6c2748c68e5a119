import type { Clash, Plan } from '../../core/plan/index.js';
import { nodeName } from './clock.js';
import { fieldName } from './names.js';

/** What the parts of a plan are called where two edits of them clash. */
const PLACES: Record<string, string> = {
	name: 'name of the plan',
	note: 'note',
	part: 'part',
	clock: 'clock',
	labels: 'name in the clock tree',
	wishes: 'rate asked of a node',
	held: 'nodes that are held',
	aims: 'aims',
	mappings: 'mapped line',
	stimuli: 'input',
	changes: 'list of writes',
	marks: 'marks',
	zero: 'where times count from',
	cards: 'measurements'
};

/** Fields of a value that are shown of it. */
const SHOWN = 6;
const LONGEST = 60;

/** The place of a clash, from the large to the small. */
export function clashPlace({ path }: Pick<Clash, 'path'>, plans: readonly Plan[]): string {
	const [first, second, ...rest] = path;
	const words = [PLACES[first] ?? first];
	if (second !== undefined) {
		const found = memberName(first, second, plans);
		if (first === 'aims' && found) words[0] = found;
		else words.push(found ?? fieldWords(second));
	}
	return [...words, ...rest.map(fieldWords)].join(' · ');
}

/** One side of a clash in words; what only the other of the two says is not told. */
export function clashValue(value: unknown, base: unknown, plans: readonly Plan[], order = false): string {
	if (value === undefined) return base === undefined ? 'not there' : 'taken out';
	if (order) return (value as string[]).map((id) => memberName('aims', id, plans) ?? id).join(', ');
	if (typeof value === 'string') return value.trim() === '' ? 'empty' : value;
	if (typeof value !== 'object' || value === null) return String(value);
	const was = typeof base === 'object' && base !== null ? (base as Record<string, unknown>) : {};
	const fields = Object.entries(value).filter(([key, one]) => key !== 'id' && JSON.stringify(one) !== JSON.stringify(was[key]));
	const shown = fields.slice(0, SHOWN).map(([key, one]) => `${fieldWords(key)}: ${shortly(one)}`);
	return `${shown.join(', ')}${fields.length > SHOWN ? ` and ${fields.length - SHOWN} more` : ''}` || 'as it was';
}

function memberName(list: string, id: string, plans: readonly Plan[]): string | undefined {
	if (list === 'clock' || list === 'labels') return plans[0] && nodeName(plans[0], id);
	for (const plan of plans) {
		if (list === 'aims' || list === 'stimuli') {
			const aim = plan.aims.find((one) => one.id === id);
			if (aim) return aim.name.trim() || 'unnamed';
		}
		if (list === 'mappings') {
			const mapping = plan.mappings.find((one) => one.id === id);
			if (mapping) return mapping.line;
		}
		if (list === 'marks') {
			const mark = plan.marks.find((one) => one.id === id);
			if (mark) return mark.name;
		}
	}
	return ['wishes', 'changes', 'cards'].includes(list) ? 'one of them' : undefined;
}

/** "deadTime" as "dead time". */
function fieldWords(key: string): string {
	const known = fieldName(key);
	return known === key ? key.replaceAll(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`) : known;
}

function shortly(value: unknown): string {
	const text = typeof value === 'string' ? value || 'empty' : JSON.stringify(value);
	return text.length > LONGEST ? `${text.slice(0, LONGEST - 2)} …` : text;
}
