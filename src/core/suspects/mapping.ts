import { leaderOf, type Plan } from '../plan/index.js';

/** What a recorded line shows: a line of an aim. */
export interface LineMap {
	aim: string;
	role: string;
}

/** A mapping as it is typed: FILE:LINE=AIM/ROLE, split at its last "=", the last ":" before it and the last "/" after it; "\" escapes. */
export interface TypedMap {
	file: string;
	line: string;
	aim: string;
	role: string;
}

/** Reads a typed mapping; undefined for one that is none. */
export function readMap(text: string): TypedMap | undefined {
	const equals = lastPlain(text, '=');
	if (equals < 0) return undefined;
	const [source, target] = [text.slice(0, equals), text.slice(equals + 1)];
	const [colon, slash] = [lastPlain(source, ':'), lastPlain(target, '/')];
	if (colon < 0) return undefined;
	const aim = slash < 0 ? target : target.slice(0, slash);
	const role = slash < 0 ? '' : target.slice(slash + 1);
	return { file: plain(source.slice(0, colon)), line: plain(source.slice(colon + 1)), aim: plain(aim), role: plain(role) };
}

/** The last place of a sign in front of which no odd number of backslashes stands. */
function lastPlain(text: string, sign: string): number {
	for (let i = text.length - 1; i >= 0; i--) {
		if (text[i] !== sign) continue;
		let slashes = 0;
		while (i - slashes > 0 && text[i - slashes - 1] === '\\') slashes++;
		if (slashes % 2 === 0) return i;
	}
	return -1;
}

function plain(text: string): string {
	return text.replaceAll(/\\(.)/g, '$1');
}

/** A line of the plan that a recording could show. */
export interface Offer extends LineMap {
	/** Names under which people know it, the likeliest first. */
	names: string[];
	/** Period and high width, where it is steady. */
	steady?: { period: number; high: number };
}

/** A recorded line that nobody has mapped. */
export interface Unmapped {
	line: string;
	steady?: { period: number; high: number };
}

/**
 * Guesses what lines show, each line of the plan once: by name first, then by what they do. Lines that nothing fits stay unmapped.
 */
export function guessMaps(lines: readonly Unmapped[], offers: readonly Offer[]): (LineMap | undefined)[] {
	const found: (LineMap | undefined)[] = lines.map(() => undefined);
	const free = new Set(offers);
	const take = (at: number, offer: Offer) => {
		found[at] = { aim: offer.aim, role: offer.role };
		free.delete(offer);
	};
	for (const fits of [sameName, withinName])
		lines.forEach(({ line }, at) => {
			if (found[at]) return;
			const own = [...free].filter((offer) => offer.names.some((name) => fits(bare(name), bare(line))));
			if (own.length === 1 || (own.length > 1 && fits === sameName)) take(at, own[0]);
		});
	for (const least of [2, 1])
		lines.forEach(({ line }, at) => {
			if (found[at]) return;
			const scored = [...free].map((offer) => ({ offer, score: Math.max(...offer.names.map((name) => sharedWords(name, line))) }));
			const best = Math.max(...scored.map(({ score }) => score));
			const own = scored.filter(({ score }) => score === best && score >= least);
			if (own.length === 1) take(at, own[0].offer);
		});
	const open = lines.flatMap(({ steady }, at) =>
		found[at] ? [] : [...free].map((offer) => ({ at, offer, far: farFrom(steady, offer.steady) }))
	);
	open.sort((a, b) => a.far - b.far || a.at - b.at);
	for (const { at, offer, far } of open) if (!found[at] && free.has(offer) && (far < LIKELY || alone(lines, found, free))) take(at, offer);
	return found;
}

/** Waves that differ by less are taken for the same: a factor of e to this power. */
const LIKELY = 0.05;

/** One line and one place are left: what else should it be? */
function alone(lines: readonly Unmapped[], found: readonly (LineMap | undefined)[], free: ReadonlySet<Offer>): boolean {
	return free.size === 1 && lines.filter((_, i) => !found[i]).length === 1;
}

function farFrom(a: Unmapped['steady'], b: Offer['steady']): number {
	if (!a || !b) return 100;
	return Math.abs(Math.log(a.period / b.period)) + Math.abs(a.high / a.period - b.high / b.period);
}

/** Words that say the same of an output. */
const ALIKE: Record<string, string> = {
	low: 'complementary',
	n: 'complementary',
	neg: 'complementary',
	comp: 'complementary',
	high: 'main',
	pos: 'main'
};

function wordsOf(name: string): string[] {
	return name
		.toLowerCase()
		.split(/[^a-z0-9]+/)
		.filter((word) => word !== '')
		.map((word) => (Object.hasOwn(ALIKE, word) ? ALIKE[word] : word));
}

/** Words that stand in both names. */
function sharedWords(a: string, b: string): number {
	const own = new Set(wordsOf(a));
	return new Set(wordsOf(b).filter((word) => own.has(word))).size;
}

const bare = (name: string) => name.toLowerCase().replaceAll(/[^a-z0-9]+/g, '');
const sameName = (name: string, line: string) => name !== '' && name === line;
const withinName = (name: string, line: string) => name.length > 2 && line.length > 2 && (line.includes(name) || name.includes(line));

/** Words for an aim's own pin. */
const OWN = ['', 'follower'];

/** What a typed aim and role stand for; undefined where the plan has no such aim. `leader` is another aim's pin. */
export function meantBy(plan: Plan, aim: string, role: string): LineMap | undefined {
	const known =
		plan.aims.find(({ id }) => id === aim) ??
		plan.aims.find(({ name }) => name === aim) ??
		plan.aims.find(({ name }) => bare(name) === bare(aim));
	if (!known) return undefined;
	if (role === 'leader') {
		const leader = leaderOf(known);
		return leader === undefined ? undefined : { aim: leader, role: 'pin' };
	}
	return { aim: known.id, role: OWN.includes(role) ? 'pin' : role };
}
