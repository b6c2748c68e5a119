import type { PartProfile } from '../part/index.js';
import { readBinding } from './binding.js';
import { proposeBinding, type Json } from './propose.js';
import type { Value } from './value.js';

/** Blocks of a binding as plain data, as far as a guess looks at them. */
export type GuessedBlocks = Readonly<
	Record<string, { bits?: number | undefined; registers?: Readonly<Record<string, unknown>> | undefined; like?: string | undefined }>
>;

/** Names of a field's codes, by "BLOCK.REG.FIELD". */
export type FieldWords = Readonly<Record<string, readonly (readonly [name: string, code: number])[]>>;

/** Where a quantity may live, and how sure that is: from 0 to 1. */
export interface Guess {
	unit: string;
	quantity: string;
	place: string;
	/** As it goes into the binding: a place, or an object with its codes. */
	value: Json;
	sure: number;
}

export interface Guesses {
	/** The block of each unit that has one by its name. */
	blocks: Record<string, string>;
	guesses: Guess[];
}

/** Words by which each quantity goes, the plainest first. */
const NAMES: Record<string, string> = {
	run: 'run go enable enabled start on',
	mode: 'way mode direction dir counting align',
	'one-shot': 'once oneshot single',
	retrigger: 'again retrigger',
	'update-at': 'updateat',
	tap: 'tap',
	'buffer:reload': 'holdnew buffer buffered shadow holdtop',
	'buffer:compare': 'hold buffer buffered shadow',
	outputs: 'main outputs allout',
	fault: 'fault',
	postscale: 'postscale post',
	prescale: 'tickdiv div divider prescale prescaler ladder step',
	count: 'count now counter',
	reload: 'top topval reload period limit max',
	preload: 'refill preload',
	repeat: 'repeat skip repeats',
	compare: 'match compare at value due cmp',
	output: 'shape rule output',
	polarity: 'flip polarity invert',
	drive: 'drive',
	idle: 'idle rest',
	dead: 'dead gap deadtime',
	capture: 'grab catch capture',
	edge: 'edge edges',
	every: 'every',
	filter: 'sift filter',
	source: 'feed source clocksource',
	encoder: 'encoder times quadrature',
	trigger: 'from trigger',
	action: 'act action',
	send: 'send sends',
	load: 'loadnow load poke update',
	gate: 'gate gates'
};
/** Words of registers that hold a bit an event. */
const HOLDERS: Record<string, string> = {
	interrupt: 'askint interrupt interrupts irq int asks ask',
	flag: 'events flags event flag status',
	paced: 'paces pace paced requests'
};
const EVENTS: Record<string, string> = {
	update: 'wrap update overflow top',
	overflow: 'wrap overflow update',
	match: 'hit match compare',
	capture: 'hit capture catch grab',
	level: 'level hit',
	trigger: 'linked trigger',
	start: 'start'
};
/** A guess below is none. */
const LEAST = 0.35;

/** A field, or a whole register. */
interface Candidate {
	block: string;
	register: string;
	place: string;
	/** Their words without digits; and what marks a channel in either. */
	names: { field?: string; register: string; both: string; exact: string };
	marks: string[];
	width: number;
	words: readonly (readonly [name: string, code: number])[];
}

/**
 * Where every quantity of a part may live among blocks that were described, by names, widths and words of codes; each place once, the
 * surest first. `said`: blocks of units that are known.
 */
export function guessBindings(
	part: PartProfile,
	blocks: GuessedBlocks,
	words: FieldWords = {},
	said: Readonly<Record<string, string>> = {}
): Guesses {
	const wanted = wantedOf(part);
	const places = new Map(Object.keys(blocks).map((name) => [name, candidatesOf(name, blocks, words)]));
	const found: Guesses = { blocks: {}, guesses: [] };
	if (!wanted) return found;
	for (const { id, values } of wanted.units.values()) {
		const block = said[id] ?? blockFor(id, [...places.keys()]);
		if (block === undefined) continue;
		found.blocks[id] = block;
		const cut = cutNumbers([...values.values()], places.get(block) ?? []);
		found.guesses.push(...cut.map((one) => ({ unit: id, ...one })));
		const whole = [...values.values()].filter(({ quantity }) => !cut.some((one) => one.quantity === quantity));
		const offered = whole.flatMap((value) => {
			const among = value.quantity === 'gate' ? gatePlaces(id, places) : (places.get(block) ?? []);
			return among.map((candidate) => ({ value, candidate, score: value.quantity === 'gate' ? 0.9 : scoreOf(value, candidate) }));
		});
		const taken = new Set<string>(cut.flatMap(({ place }) => place.split(', ')));
		const done = new Set<string>();
		for (const { value, candidate, score } of offered.sort((a, b) => b.score - a.score)) {
			const place = candidate.block === block ? candidate.place : `${candidate.block}.${candidate.place}`;
			if (score < LEAST || taken.has(place) || done.has(value.quantity)) continue;
			taken.add(place).add(candidate.register);
			done.add(value.quantity);
			const coded = codedAs(value, candidate, place, score);
			found.guesses.push({ unit: id, quantity: value.quantity, place, ...coded, sure: Math.min(1, coded.sure) });
		}
	}
	return found;
}

/** Ends of names of registers that a number is cut in, the high one first. */
const ENDS = [
	['hi', 'lo'],
	['high', 'low'],
	['h', 'l'],
	['0', '1']
];

/** Numbers that two registers or fields of one name hold, one the high part and one the low. */
function cutNumbers(values: readonly Value[], among: readonly Candidate[]): Omit<Guess, 'unit'>[] {
	const taken = new Set<string>();
	return values.flatMap((value) => {
		const stems = [plain(value.quantity), ...stemsOf(value.quantity)];
		for (const [high, low] of ENDS)
			for (const stem of stems) {
				const parts = [high, low].map((end) => among.find(({ names, place }) => names.exact === stem + end && !taken.has(place)));
				if (!parts.every((part) => part !== undefined) || parts[0].width + parts[1].width < value.width) continue;
				const [above, below] = parts;
				// Of a high part that is wider only the bits that the number has.
				const most = value.width - below.width;
				const upper = above.width > most && !above.place.includes('[') ? `${above.place}[${most - 1}:0]` : above.place;
				const places = [upper, below.place];
				parts.map(({ place }) => place).forEach((place) => taken.add(place));
				const as = value.as.kind === 'plain' ? undefined : textOf(value.as as Exclude<Value['as'], { kind: 'plain' | 'words' }>);
				return value.as.kind === 'words'
					? []
					: [{ quantity: value.quantity, place: places.join(', '), value: as === undefined ? places : { in: places, as }, sure: 0.9 }];
			}
		return [];
	});
}

/** Words that a quantity may go by, with its channel behind them. */
function stemsOf(quantity: string): string[] {
	const [head, channel, more] = quantity.split(':');
	if (more !== undefined) return [];
	const mark = channel === undefined ? '' : plain(channel).replace(/^ch(?=\d)/, '');
	return (NAMES[head] ?? '').split(' ').map((word) => word + mark);
}

/** Every quantity that a part can be set in, with its width and codes. */
const wantedOf = (part: PartProfile) => readBinding(proposeBinding(part, { bits: 32, base: 0x4000_0000, apart: 0x400 })).binding;

const plain = (name: string) => name.toLowerCase().replaceAll(/[^a-z0-9]/g, '');
const wordsOnly = (name: string) => plain(name).replaceAll(/\d+/g, '');

/** The block that goes by a unit's name, or by its last part. */
function blockFor(unit: string, names: readonly string[]): string | undefined {
	const own = plain(unit);
	const clock = unit === 'clock' ? ['clocks', 'clock', 'clockctl'] : [own];
	return names.find((name) => clock.includes(plain(name))) ?? names.find((name) => plain(name).endsWith(own));
}

function candidatesOf(block: string, blocks: GuessedBlocks, words: FieldWords): Candidate[] {
	const own = blocks[block];
	const from = own.registers ?? (own.like === undefined ? undefined : blocks[own.like]?.registers) ?? {};
	return Object.entries(from).flatMap(([register, raw]) => {
		const said = typeof raw === 'object' && raw !== null ? (raw as { bits?: number; fields?: Record<string, string> }) : {};
		const bits = said.bits ?? own.bits ?? 32;
		const fields = Object.entries(said.fields ?? {});
		const one = (field: string | undefined, width: number): Candidate => ({
			block,
			register,
			place: field === undefined ? register : `${register}[${field}]`,
			names: {
				...(field !== undefined && { field: wordsOnly(field) }),
				register: wordsOnly(register),
				both: wordsOnly(`${register}${field ?? ''}`),
				exact: plain(field ?? register)
			},
			marks: marksOf(register, field),
			width,
			words: field === undefined ? [] : (words[`${block}.${register}.${field}`] ?? [])
		});
		return [
			...fields.map(([field, range]) => one(field, widthOf(range))),
			...(fields.length === 1 || fields.length === 0 ? [one(undefined, bits)] : [])
		];
	});
}

function widthOf(range: string): number {
	const [high, low = high] = range.split(':').map(Number);
	return high - low + 1;
}

/** Digits, and single letters behind a mark or at the end: "MATCH1" 1, "MATCH_A" and "MATCHA" a. */
function marksOf(register: string, field = ''): string[] {
	return [register, field].flatMap((name) => [
		...(name.match(/\d+/g) ?? []),
		...(/(?:^|_)([A-Za-z])$/
			.exec(name)
			?.slice(1)
			.map((one) => one.toLowerCase()) ?? []),
		...(name.length > 3 ? [name.slice(-1).toLowerCase()] : [])
	]);
}

/** How well one of some words names it: the first are plainer. */
function named(list: string, name: string | undefined): number {
	if (name === undefined || name === '') return 0;
	const words = list.split(' ');
	const at = words.indexOf(name);
	if (at >= 0) return 1 - 0.02 * at;
	return words.some((word) => word.length > 2 && (name.startsWith(word) || name.endsWith(word))) ? 0.7 : 0;
}

function scoreOf(value: Value, candidate: Candidate): number {
	const [head, ...rest] = value.quantity.split(':');
	if (candidate.names.exact === plain(value.quantity)) return 1.1 * widthScore(value, candidate);
	const byName = head in HOLDERS ? eventScore(head, rest, candidate) : nameScore(value.quantity, head, rest, candidate);
	return byName * widthScore(value, candidate);
}

function nameScore(quantity: string, head: string, rest: readonly string[], { names, marks }: Candidate): number {
	if (head === 'clock') return clockScore(rest, names);
	const list = NAMES[quantity] ?? NAMES[head];
	if (list === undefined) return 0;
	const channel = rest[0];
	if (channel !== undefined && NAMES[quantity] === undefined && !marks.includes(plain(channel).replace(/^ch(?=\d)/, ''))) return 0;
	// A field says more than its register; a register whose only field says nothing speaks for it.
	const score = Math.max(named(list, names.field), 0.9 * named(list, names.register), 0.8 * named(list, names.both));
	// The second of a pair, or an end that is complementary, says so.
	return rest.length > 1 ? score * 0.5 : score;
}

function eventScore(head: string, [event, channel]: readonly string[], { names, marks }: Candidate): number {
	const holder = named(HOLDERS[head], names.register);
	const what = named(EVENTS[event] ?? event, names.field);
	if (holder === 0 || what === 0) return 0;
	if (channel !== undefined && !marks.includes(plain(channel).replace(/^ch(?=\d)/, ''))) return 0;
	return (holder + what) / 2;
}

/** A node's factor, choice or switch: by its own name in the field's. */
function clockScore([node, on]: readonly string[], { field, register }: Candidate['names']): number {
	const own = wordsOnly(node).slice(0, 4);
	const name = field ?? register;
	if (own.length < 3 || !name.startsWith(own)) return 0;
	const switched = /on$|enable$/.test(name);
	return on === 'on' ? (switched ? 0.9 : 0.3) : switched ? 0.2 : 0.7;
}

/** A number needs its bits; a bit is no number. */
function widthScore({ width, as }: Value, candidate: Candidate): number {
	if (candidate.width < width) return as.kind === 'words' && width - candidate.width <= 1 ? 0.8 : 0.3;
	if (width === 1) return candidate.width === 1 ? 1 : candidate.width === 2 ? 0.8 : 0.4;
	if (as.kind === 'words') return candidate.width <= width + 3 ? 1 : 0.5;
	return candidate.width >= width && candidate.width <= 2 * width ? 1 : 0.9;
}

/** A place with the codes that its words tell; where nobody tells them, ours, and little sure. */
function codedAs({ as }: Value, { words }: Candidate, place: string, score: number): Pick<Guess, 'value' | 'sure'> {
	if (as.kind === 'plain') return { value: place, sure: score };
	if (as.kind !== 'words') return { value: { in: place, as: textOf(as) }, sure: as.kind === 'formula' ? 0.9 * score : score };
	const rows = as.rows.flatMap(([word]) => {
		const said = words.find(([name]) => plain(name) === plain(word) || plain(name) === `by${plain(word)}`);
		return said ? [[word, said[1]] as const] : [];
	});
	if (rows.length === 0)
		return { value: { in: place, as: Object.fromEntries(as.rows.map(([word, code]) => [word, Number(code)])) }, sure: 0.5 * score };
	return { value: { in: place, as: Object.fromEntries(rows) }, sure: score * (0.6 + (0.4 * rows.length) / as.rows.length) };
}

function textOf(as: Exclude<Value['as'], { kind: 'plain' | 'words' }>): Json {
	if (as.kind === 'list') return as.codes.map((code) => (code === null ? null : Number(code)));
	if (as.kind !== 'formula') return as.kind === 'from-top' ? '2^w-v' : as.kind;
	const factor = as.factor.toString();
	const [num, den = '1'] = factor.split('/');
	const times = num === '1' ? (den === '1' ? '' : `/${den}`) : `*${num}`;
	return `v${times}${as.plus === 0n ? '' : as.plus > 0n ? `+${as.plus}` : String(as.plus)}`;
}

/** Fields of the clock's registers that are called as the unit is. */
function gatePlaces(unit: string, places: ReadonlyMap<string, Candidate[]>): Candidate[] {
	const own = plain(unit);
	return [...places.values()]
		.flat()
		.filter(
			({ place, width, names }) =>
				width === 1 && /gate|enable|clock/.test(names.register) && plain(place.replace(/^.*\[|\]$/g, '')).startsWith(own)
		);
}

/** A binding with guesses taken into it: what was bound stays, and what would make it wrong is left out. */
export function withGuesses(binding: Record<string, unknown>, { blocks, guesses }: Guesses): Record<string, unknown> {
	let taken = guesses;
	for (;;) {
		const units: Record<string, unknown> = { ...((binding.units as Record<string, unknown> | undefined) ?? {}) };
		for (const { unit, quantity, value } of taken) {
			const own = (units[unit] ?? { block: blocks[unit] }) as { values?: Record<string, Json> };
			units[unit] = { ...own, values: { ...own.values, [quantity]: own.values?.[quantity] ?? value } };
		}
		const made = { ...binding, units };
		const wrong = new Set(readBinding(made).findings.map(([, place]) => String(place)));
		const kept = taken.filter(({ unit, quantity }) => !wrong.has(`${unit}.${quantity}`));
		if (kept.length === taken.length) return made;
		taken = kept;
	}
}

/** Units that another one can stand for: timers that are alike, whose blocks have the same registers, and of which nothing is said yet. */
export function likesOf(
	part: PartProfile,
	binding: { blocks?: unknown; units?: unknown },
	unit: string
): { unit: string; block: string }[] {
	const wanted = wantedOf(part);
	const shape = (id: string) =>
		[...(wanted?.units.get(id)?.values.values() ?? [])]
			.filter(({ quantity }) => quantity !== 'gate')
			.map(({ quantity, width, as }) => `${quantity} ${width} ${as.kind === 'words' ? as.rows.join() : as.kind}`)
			.join(';');
	const blocks = (binding.blocks ?? {}) as GuessedBlocks;
	const units = (binding.units ?? {}) as Record<string, { block?: string; like?: string; values?: object } | undefined>;
	const own = units[unit]?.block;
	const names = (block: string) => {
		const from = blocks[block];
		return Object.keys(from?.registers ?? (from?.like === undefined ? undefined : blocks[from.like]?.registers) ?? {}).join();
	};
	if (own === undefined) return [];
	return part.timers.flatMap(({ id }) => {
		const block = blockFor(id, Object.keys(blocks));
		const said = units[id]?.like !== undefined || Object.keys(units[id]?.values ?? {}).length > 0;
		return id === unit || said || block === undefined || shape(id) !== shape(unit) || names(block) !== names(own)
			? []
			: [{ unit: id, block }];
	});
}

/** A binding in which units are like another one, each on its own block and with its own gate, where that is called as it is. */
export function carriedOver(part: PartProfile, binding: Record<string, unknown>, unit: string): Record<string, unknown> {
	const blocks = (binding.blocks ?? {}) as GuessedBlocks;
	const places = new Map(Object.keys(blocks).map((name) => [name, candidatesOf(name, blocks, {})]));
	const units = { ...((binding.units ?? {}) as Record<string, unknown>) };
	const gated = 'gate' in ((units[unit] as { values?: object } | undefined)?.values ?? {});
	for (const one of likesOf(part, binding, unit)) {
		const gate = gatePlaces(one.unit, places).at(0);
		// A gate that is not found is not taken over: it is another timer's.
		const values = gated ? { gate: gate ? `${gate.block}.${gate.place}` : null } : {};
		units[one.unit] = { like: unit, block: one.block, values };
	}
	return { ...binding, units };
}
