import type { Compared } from './compare.js';
import type { Changed, Mistake, Where } from './change.js';
import { MISTAKES } from './catalogue/index.js';
import type { Group, Scene } from './scene.js';
import { atOnce } from '../plan/index.js';
import { explains, isExplained, weigh, weighAll, weighCourses, type Weighed } from './weigh.js';

/** One mistake, made somewhere: groups that it changes, as they would then be. */
export interface Guess {
	codes: string[];
	where: Where[];
	usual: number;
	/** By number of the group. */
	weighed: Map<number, Weighed>;
	changed: Map<number, Changed>;
}

/** What would make plan and recording agree. */
export interface Suspect extends Guess {
	/** Nothing that was measured speaks against it. */
	explains: boolean;
	worst: number;
	squares: number;
	/** Others that what was recorded cannot tell from it. */
	ties: Guess[];
	/** Left out: it speaks of all that was measured. */
	about?: { aims: string[]; recording?: string };
	/** What would tell it from the first of those: a quantity of a line, and how long it would have to be recorded. */
	tell?: Telling;
}

export interface Telling {
	line: number;
	of: Compared['of'];
	/** In seconds; left out where no length would do. */
	seconds?: number;
}

export interface Findings {
	/** Each group as planned. */
	base: Weighed[];
	/** Does the plan as it stands explain all that was measured? */
	explained: boolean;
	suspects: Suspect[];
}

/** Suspects that are told at the most, and those that explain only a part of what was measured. */
const [MOST_TOLD, MOST_NEAR] = [24, 5];

/** How far a search is, from 0 to 1: what it yields between guesses, so that others can have their turn. */
export type Stepwise<T> = Generator<number, T, void>;

/** Singles take this share of a search, and likely pairs that, as far as anybody can tell ahead. */
const [SINGLES, PAIRS] = [0.7, 0.2];

/** Looks for mistakes that explain what the plan as it stands does not (timers.md 15), best first. */
export function findMistakes(scene: Scene): Findings {
	return atOnce(findStepwise(scene, weighAll(scene)));
}

/**
 * The same, with room for others between its steps. `base`: each group as planned. `early` is called with the suspects so far as soon as a
 * group that fails is explained by one. `leave` is called with the groups, or single recordings of them, that no one mistake
 * explains, before two are looked for; where it says so nothing more is.
 */
export function* findStepwise(
	scene: Scene,
	base: Weighed[],
	early?: (suspects: Suspect[]) => void,
	leave?: (groups: Group[]) => boolean
): Stepwise<Findings> {
	const failing = scene.groups.filter(({ number }) => !explains(base[number]));
	if (failing.length === 0) return { base, explained: true, suspects: [] };
	const single = (yield* singles(scene, failing, base, early)).filter((guess) => matters(scene, guess, base));
	const overall = ranked(scene, base, single);
	if (overall.some((one) => one.explains)) return { base, explained: false, suspects: told(scene, overall) };
	const suspects: Suspect[] = told(scene, ranked(scene, base, acrossGroups(failing, single))).filter((one) => one.explains);
	const units = failing.flatMap((group) => unitsOf(scene, group, base, single));
	const open = units.flatMap(({ group, single }) => (single.some(({ weighed }) => explains(weighed.get(group.number)!)) ? [] : [group]));
	if (open.length > 0 && leave?.(open)) return { base, explained: false, suspects };
	for (const unit of units) suspects.push(...(yield* unitSuspects(unit, units.length)));
	return { base, explained: false, suspects };
}

/** What is to be explained by itself: a group of timers, or one recording of it where its recordings contradict each other. */
interface Unit {
	scene: Scene;
	group: Group;
	base: Weighed[];
	single: Guess[];
	/** Set where it is one recording of several. */
	recording?: string;
}

function unitsOf(scene: Scene, group: Group, base: readonly Weighed[], single: readonly Guess[]): Unit[] {
	const own = single.filter(({ weighed }) => weighed.has(group.number));
	const whole: Unit = { scene: { ...scene, groups: [group] }, group, base: [...base], single: own };
	const recordings = recordingsOf(group);
	if (recordings.length === 1 || own.some(({ weighed }) => explains(weighed.get(group.number)!))) return [whole];
	const parts = recordings.map((recording) => ({ ...partOf(scene, group, base, own, recording), recording }));
	return parts.filter((part) => !explains(part.base[group.number]));
}

function recordingsOf({ lines }: Group): string[] {
	return [...new Set(lines.map(({ seen }) => seen.witness.recording))];
}

/** A group with the lines of one recording alone: what was predicted stays, only what it is held against is less. */
function partOf(scene: Scene, group: Group, base: readonly Weighed[], single: readonly Guess[], recording: string): Unit {
	const kept = group.lines.map(({ seen }) => seen.witness.recording === recording);
	const part: Group = { ...group, lines: group.lines.filter((_, i) => kept[i]) };
	const own: Scene = { ...scene, groups: [part] };
	const again = (weighed: Weighed, changed?: Changed) => {
		const courses = weighed.courses.filter((_, i) => kept[i]);
		return weighCourses(own, part, courses, changed?.ppm);
	};
	const less = [...base];
	less[group.number] = again(base[group.number]);
	const guesses = single.map((guess) => ({
		...guess,
		weighed: new Map([[group.number, again(guess.weighed.get(group.number)!, guess.changed.get(group.number))]])
	}));
	return { scene: own, group: part, base: less, single: guesses.filter((guess) => matters(own, guess, less)) };
}

/** Nearest ones of each of several units that are told. */
const NEAR_EACH = 2;

function* unitSuspects({ scene, group, base, single, recording }: Unit, units: number): Stepwise<Suspect[]> {
	let found = ranked(scene, base, single);
	if (!found.some((one) => one.explains)) {
		const pairs = yield* pairsIn(scene, group, single, base[group.number]);
		found = ranked(scene, base, [...single, ...pairs]);
	}
	const all = told(scene, found);
	const near = all.filter((one) => !one.explains).slice(0, units > 1 ? NEAR_EACH : MOST_NEAR);
	const about = { aims: [...new Set(group.lines.map(({ seen }) => seen.witness.aim))], ...(recording !== undefined && { recording }) };
	return [...all.filter((one) => one.explains), ...near].map((one) => ({ ...one, about }));
}

function* singles(scene: Scene, failing: readonly Group[], base: Weighed[], early?: (suspects: Suspect[]) => void): Stepwise<Guess[]> {
	const guesses: Guess[] = [];
	const open = new Open(scene, failing, base);
	let looked = 0;
	// The most usual come first: the first that explains is the best.
	for (const [done, mistake] of MISTAKES.entries()) {
		yield (SINGLES * done) / MISTAKES.length;
		const before = open.found.length;
		for (; early && looked < guesses.length; looked++) open.take(guesses[looked]);
		if (open.found.length > before) early?.([...open.found]);
		const own = scene.groups.map((group) => mistake.of(group, scene));
		const shared = new Map<string, Guess>();
		for (const group of scene.groups)
			for (const changed of own[group.number]) {
				if (changed.shared === undefined) {
					if (failing.includes(group)) guesses.push(guessOf(scene, mistake, group, changed));
					continue;
				}
				const known = shared.get(changed.shared);
				if (!known) shared.set(changed.shared, guessOf(scene, mistake, group, changed));
				else {
					known.weighed.set(group.number, weigh(scene, group, changed));
					known.changed.set(group.number, changed);
				}
			}
		guesses.push(...shared.values());
	}
	return guesses;
}

/** What is still to be explained while mistakes are gone through: groups that fail, and single recordings of them. */
class Open {
	/** By group and recording; of a group as a whole the recording is ''. */
	private readonly closed = new Set<string>();
	readonly found: Suspect[] = [];

	constructor(
		private readonly scene: Scene,
		private readonly failing: readonly Group[],
		private readonly base: Weighed[]
	) {}

	/** Takes a guess that explains something that nothing before did. */
	take(guess: Guess): void {
		const { scene, base } = this;
		const groups = scene.groups.filter(({ number }) => guess.weighed.has(number));
		const own = this.failing.filter(({ number }) => guess.weighed.has(number) && !this.closed.has(`${number} `));
		if (own.length === 0) return;
		if (groups.every(({ number }) => explains(guess.weighed.get(number)!))) {
			if (this.put({ ...scene, groups }, base, guess)) for (const { number } of own) this.closed.add(`${number} `);
			return;
		}
		for (const group of own)
			for (const recording of recordingsOf(group)) {
				if (this.closed.has(`${group.number} ${recording}`)) continue;
				const part = partOf(scene, group, base, [guess], recording);
				if (explains(part.base[group.number])) this.closed.add(`${group.number} ${recording}`);
				else if (part.single.some(({ weighed }) => explains(weighed.get(group.number)!))) {
					this.closed.add(`${group.number} ${recording}`);
					this.put(part.scene, part.base, part.single[0], recording);
				}
			}
	}

	private put(scene: Scene, base: Weighed[], guess: Guess, recording?: string): boolean {
		if (!matters(scene, guess, base)) return false;
		const aims = [...new Set(scene.groups.flatMap(({ lines }) => lines.map(({ seen }) => seen.witness.aim)))];
		const about = { aims, ...(recording !== undefined && { recording }) };
		this.found.push(...told(scene, ranked(scene, base, [guess])).map((one) => ({ ...one, about })));
		return true;
	}
}

function guessOf(scene: Scene, { code, usual }: Mistake, group: Group, changed: Changed): Guess {
	return {
		codes: [code],
		where: [changed.where],
		usual,
		weighed: new Map([[group.number, weigh(scene, group, changed)]]),
		changed: new Map([[group.number, changed]])
	};
}

/** Can a guess be held against all that moves? What is too long to be followed explains nothing; a line that stands still agrees with what is slow. */
function holdable({ lines }: Scene, one: Weighed, base: Weighed): boolean {
	const linesOf = ({ all }: Weighed) => new Set(all.map(({ line }) => line).filter((line) => lines[line].edges.length > 0));
	const held = linesOf(one);
	return [...linesOf(base)].every((line) => held.has(line));
}

/** Does a mistake change anything that was looked at? */
function matters(scene: Scene, { weighed }: Guess, base: readonly Weighed[]): boolean {
	if (![...weighed].every(([number, one]) => holdable(scene, one, base[number]))) return false;
	return [...weighed].some(([number, { all, residuals }]) => {
		const before = base[number];
		return (
			all.length !== before.all.length ||
			all.some(
				(one, i) =>
					one.of !== before.all[i].of || differs(one.predicted, before.all[i].predicted) || differs(residuals[i], before.residuals[i])
			)
		);
	});
}

/** Doubles that were summed in another order are the same to this share. */
const SAME = 1e-7;

function differs(a: number, b: number): boolean {
	const most = Math.max(Math.abs(a), Math.abs(b));
	return a !== b && !(most < Infinity && Math.abs(a - b) <= SAME * most);
}

type Ranked = Omit<Suspect, 'ties' | 'tell' | 'about'>;

function ranked(scene: Scene, base: readonly Weighed[], guesses: readonly Guess[]): Ranked[] {
	const all = guesses.map((guess): Ranked => {
		const groups = scene.groups.map(({ number }) => guess.weighed.get(number) ?? base[number]);
		return {
			...guess,
			worst: Math.max(...groups.map(({ worst }) => worst)),
			squares: groups.reduce((sum, { squares }) => sum + squares, 0),
			explains: groups.every(explains)
		};
	});
	const name = ({ codes, where }: Guess) => [...codes, ...where.map(({ timer, what }) => `${timer}.${what}`)].join(' ');
	return all.sort(
		(a, b) =>
			Number(b.explains) - Number(a.explains) ||
			(a.explains
				? a.codes.length - b.codes.length || a.usual - b.usual || a.squares - b.squares
				: a.squares - b.squares || a.codes.length - b.codes.length || a.usual - b.usual) ||
			(name(a) < name(b) ? -1 : 1)
	);
}

/** Pairs that are weighed, pairs that explain and are told, and ways of a second mistake on one register, at the most. */
const [MOST_PAIRS, ENOUGH_PAIRS, MOST_WAYS] = [350, 24, 3];

/** Explanations of each of two groups that are put together. */
const MOST_ACROSS = 8;

/** Two mistakes, each in a group of its own. */
function acrossGroups(failing: readonly Group[], single: readonly Guess[]): Guess[] {
	if (failing.length !== 2) return [];
	const [a, b] = failing.map(({ number }) =>
		single
			.filter(({ weighed }) => weighed.has(number) && explains(weighed.get(number)!))
			.sort(byUse)
			.slice(0, MOST_ACROSS)
	);
	return a.flatMap((one) => b.filter((other) => other !== one).map((other) => joined(one, other)));
}

const byUse = (a: Guess, b: Guess) => a.usual - b.usual;

/** The same two mistakes can be found from either side. */
function onePerPair(pairs: readonly Guess[]): Guess[] {
	const known = new Map<string, Guess>();
	for (const pair of pairs) {
		const key = JSON.stringify([pair.codes, [...pair.where].sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1))]);
		if (!known.has(key)) known.set(key, pair);
	}
	return [...known.values()];
}

function joined(a: Guess, b: Guess): Guess {
	return {
		codes: [...a.codes, ...b.codes].sort(),
		where: [...a.where, ...b.where],
		usual: a.usual + b.usual,
		weighed: new Map([...a.weighed, ...b.weighed]),
		changed: new Map([...a.changed, ...b.changed])
	};
}

/**
 * How much a pair may miss the measured period by, as a share: as clocks do, as changes of one register that do not simply add up, and as
 * rough sources do. The nearest are weighed first.
 */
const MISSES = [0.0003, 0.012, 0.05];
/** A miss stands against so many places among the usual ones. */
const MISS_WEIGHT = 20;

/** Both mistakes in one group. What each does to the period says which two could come to what was measured; those are weighed. */
function* pairsIn(scene: Scene, group: Group, single: readonly Guess[], base: Weighed): Stepwise<Guess[]> {
	const likely = likelyPairs(single, group, base);
	const pairs: Guess[] = [];
	for (const [i, [a, b]] of likely.slice(0, MOST_PAIRS).entries()) {
		yield SINGLES + (PAIRS * i) / MOST_PAIRS;
		pairs.push(...composed(scene, group, base, a, b), ...composed(scene, group, base, b, a));
		if (pairs.length >= ENOUGH_PAIRS) break;
	}
	if (pairs.length === 0) pairs.push(...(yield* onTop(scene, group, single, base)));
	return onePerPair(pairs);
}

/** Mistakes that mend a part, and on each of them others, at the most. */
const [MOST_MENDING, MOST_ON_TOP] = [12, 400];

/** What one mistake hides, as a pin does that stands still, only shows once that one is made: a second one, which alone did nothing, is looked for on top. */
function* onTop(scene: Scene, group: Group, single: readonly Guess[], base: Weighed): Stepwise<Guess[]> {
	const before = mendedLines(base);
	const mending = single
		.map((guess) => ({ guess, more: mendedLines(guess.weighed.get(group.number)!) - before }))
		.filter(({ guess, more }) => more > 0 || (!moves(base) && moves(guess.weighed.get(group.number)!)))
		.sort((a, b) => b.more - a.more || byUse(a.guess, b.guess))
		.slice(0, MOST_MENDING);
	const pairs: Guess[] = [];
	for (const [i, { guess }] of mending.entries()) {
		const next = after(group, guess);
		let looked = 0;
		for (const [k, mistake] of MISTAKES.entries()) {
			yield SINGLES + PAIRS + ((1 - SINGLES - PAIRS) * (i + k / MISTAKES.length)) / mending.length;
			if (mistake.code === guess.codes[0]) continue;
			for (const way of mistake.of(next, scene)) {
				if (looked++ >= MOST_ON_TOP) break;
				pairs.push(...pairOf(scene, group, base, guess, mistake, way));
			}
		}
		if (pairs.length >= ENOUGH_PAIRS) break;
	}
	return pairs;
}

/** Lines of which all is explained. */
function mendedLines({ all, residuals }: Weighed): number {
	const [lines, open] = [new Set<number>(), new Set<number>()];
	all.forEach(({ line }, i) => (isExplained(residuals[i]) ? lines : open).add(line));
	return [...lines].filter((line) => !open.has(line)).length;
}

const moves = ({ all }: Weighed) => all.some(({ of }) => of === 'period');

/** A group once a mistake was made in it. */
function after(group: Group, first: Guess): Group {
	const { system, seconds } = first.changed.get(group.number)!;
	return { ...group, system, seconds: seconds ?? group.seconds };
}

/** A second mistake, a way of it, on top of a first one; nothing unless both together explain what was measured. */
function pairOf(
	scene: Scene,
	group: Group,
	base: Weighed,
	first: Guess,
	{ code, usual }: Pick<Mistake, 'code' | 'usual'>,
	way: Changed
): Guess[] {
	const before = first.changed.get(group.number)!;
	const ppm = way.ppm ?? before.ppm;
	const both: Changed = { ...way, seconds: way.seconds ?? before.seconds ?? group.seconds, ...(ppm && { ppm }) };
	const weighed = weigh(scene, group, both);
	if (!explains(weighed) || !holdable(scene, weighed, base)) return [];
	return [
		{
			codes: [first.codes[0], code].sort(),
			where: [first.where[0], way.where],
			usual: first.usual + usual,
			weighed: new Map([[group.number, weighed]]),
			changed: new Map([[group.number, both]])
		}
	];
}

/** Pairs of guesses whose changes of the period, one after the other, come to the measured one: the most usual first. */
function likelyPairs(single: readonly Guess[], { number }: Group, base: Weighed): [Guess, Guess][] {
	const key = ({ line, of }: Compared) => `${line} ${of}`;
	const broken = new Set(base.all.flatMap((one, i) => (isExplained(base.residuals[i]) ? [] : [key(one)])));
	const known = base.all.find(({ of }) => of === 'period') ?? usualPeriod(single, number);
	const target = known && Math.log(known.measured / known.predicted);
	const parts = single.map((guess) => {
		const { all, residuals } = guess.weighed.get(number)!;
		const period = known && all.find((one) => key(one) === key(known));
		const mends = all.some((one, i) => isExplained(residuals[i]) && broken.has(key(one)));
		return { guess, mends, by: period && known ? Math.log(period.predicted / known.predicted) : undefined };
	});
	const pairs: { pair: [Guess, Guess]; rank: number }[] = [];
	for (const [i, a] of parts.entries())
		for (const b of parts.slice(i + 1)) {
			if (a.guess.codes[0] === b.guess.codes[0]) continue;
			// One that leaves the pin still, or brings it to move, says nothing of the period.
			const off = target === undefined ? undefined : Math.abs((a.by ?? 0) + (b.by ?? 0) - target);
			const near = off === undefined ? (a.mends || b.mends ? 0 : -1) : MISSES.findIndex((most) => off < most);
			const miss = near < 0 && meet(a.guess, b.guess) ? 1 : near;
			if (miss >= 0) pairs.push({ pair: [a.guess, b.guess], rank: a.guess.usual + b.guess.usual + MISS_WEIGHT * miss });
		}
	return pairs.sort((a, b) => a.rank - b.rank).map(({ pair }) => pair);
}

/** What two mistakes on the way to one period do together cannot be told from what each does. */
const PERIOD = ['reload', 'prescale', 'mode'];

function meet(a: Guess, b: Guess): boolean {
	const [one, other] = [a.where[0], b.where[0]];
	return one.timer === other.timer && PERIOD.includes(one.what) && PERIOD.includes(other.what);
}

/** Where the plan predicts no period at all: the one that most guesses have. */
function usualPeriod(single: readonly Guess[], number: number): Compared | undefined {
	const all = single.flatMap(({ weighed }) => weighed.get(number)!.all.find(({ of }) => of === 'period') ?? []);
	const counts = new Map<number, number>();
	for (const { predicted } of all) counts.set(predicted, (counts.get(predicted) ?? 0) + 1);
	const [most] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [];
	return all.find(({ predicted }) => predicted === most);
}

/** The second mistake made on top of the first: the same way where there is one, else all on the same register. */
function composed(scene: Scene, group: Group, base: Weighed, first: Guess, second: Guess): Guess[] {
	const next = after(group, first);
	const [wanted] = second.where;
	const ways = MISTAKES.filter(({ code, usual }) => code === second.codes[0] && usual === second.usual)
		.flatMap((mistake) => mistake.of(next, scene))
		.filter(({ where }) => where.timer === wanted.timer && where.channel === wanted.channel && where.what === wanted.what);
	const same = ways.filter(({ where }) => where.found === wanted.found);
	const [code] = second.codes;
	return (same.length > 0 ? same : ways.slice(0, MOST_WAYS)).flatMap((way) =>
		pairOf(scene, group, base, first, { code, usual: second.usual }, way)
	);
}

/** Suspects that explain as one entry with those that cannot be told from its first; then the nearest of the others. */
function told(scene: Scene, found: readonly Ranked[]): Suspect[] {
	const explaining = found.filter((one) => one.explains);
	const entries: Suspect[] = [];
	const fewest = explaining[0]?.codes.length;
	for (const one of explaining.filter(({ codes }) => codes.length === fewest).slice(0, MOST_TOLD)) {
		const [first] = entries;
		if (!first) entries.push({ ...one, ties: [] });
		else first.ties.push(one);
	}
	const [first] = entries;
	if (first && first.ties.length > 0) {
		const tell = telling(scene, first, first.ties);
		if (tell) first.tell = tell;
	}
	const near = found.filter((one) => !one.explains && Number.isFinite(one.worst)).slice(0, MOST_NEAR);
	return [...entries, ...near.map((one) => ({ ...one, ties: [] }))];
}

/** The quantity in which the first and another suspect come apart soonest, and how long it takes. */
function telling({ lines }: Scene, first: Guess, others: readonly Guess[]): Telling | undefined {
	let best: (Telling & { seconds: number }) | undefined;
	for (const other of others.slice(0, 1))
		for (const [number, weighed] of first.weighed) {
			const beside = other.weighed.get(number);
			if (!beside) continue;
			for (const one of weighed.all) {
				const twin = beside.all.find(({ line, of }) => line === one.line && of === one.of);
				const apart = twin ? Math.abs(twin.predicted - one.predicted) : 0;
				if (!(apart > 0) || !(one.part > 0) || one.of === 'rows' || one.of === 'steadiness') continue;
				// Parts of means shrink with the number of periods, those of widths with its root.
				const longer = one.of === 'period' ? (2 * one.part) / apart : ((2 * one.part) / apart) ** 2;
				const { from, to } = lines[one.line];
				const seconds = Math.max(1, longer) * (to - from);
				if (!best || seconds < best.seconds) best = { line: one.line, of: one.of, seconds };
			}
		}
	return best;
}
