import { judgeAim, worstOf, type AimVerdict, type Outcome, type ShownLine } from '../check/index.js';
import { atOnce, leaderOf, type Plan } from '../plan/index.js';
import { Rational } from '../exact/index.js';
import { TraceBuilder, type Level, type Trace } from '../trace/index.js';
import { cleaned, type Damage } from './damage.js';
import { findStepwise, type Findings, type Guess, type Stepwise, type Suspect } from './find.js';
import { readingsOf, type TypedReading } from './readings.js';
import { layAll, type Laid } from './laying.js';
import type { Course } from './course.js';
import type { Observed, Witness } from './observed.js';
import { sceneOf, type Group, type Scene } from './scene.js';
import { restored } from './restored.js';
import { turnAround, type TurnedAround } from './turned.js';
import { explains, ratioRange, unexplainedLines, weighAll, type Weighed } from './weigh.js';

/** One aim with all that speaks of it. */
export interface CheckedAim extends AimVerdict {
	aim: string;
	/** Does every line of it show what is predicted, edge by edge or on the whole? Left out where no line does. */
	explained?: boolean;
}

/** A plan held against all that was recorded and read of it. */
export interface WholeCheck {
	scene: Scene;
	asSet: Outcome;
	asWished: Outcome;
	aims: CheckedAim[];
	findings: Findings;
	damage: Damage[];
	laid: Laid[];
	turned: TurnedAround[];
}

/** Holds recorded lines and readings against the plan: verdicts, damage, and suspects where it does not explain them (timers.md 11, 13 to 15). */
export function checkWhole(plan: Plan, witnesses: readonly Witness[]): WholeCheck {
	return atOnce(checkStepwise(plan, witnesses));
}

/**
 * The same, with room for others between its steps. `early` is called with the verdicts as soon as they are known, and again whenever a first
 * suspect is.
 */
export function* checkStepwise(plan: Plan, witnesses: readonly Witness[], early?: (verdicts: WholeCheck) => void): Stepwise<WholeCheck> {
	const read = readingsOf(plan);
	const readings = read.map(({ observed }) => observed);
	const raw = sceneOf(plan, witnesses, readings);
	const before = weighAll(raw);
	const { scene, base, damage } = mended(plan, readings, raw, before);
	yield 0;
	const explained = base.every(explains);
	const verdicts = verdictsOf(scene, { base, explained, suspects: [] }, read, damage);
	if (!explained) early?.(verdicts);
	yield 0;
	const lay = () => layAll(scene, base, (line) => ratioRange(scene, line));
	if (explained) return { ...verdicts, laid: lay() };
	const first = (suspects: Suspect[]) => early?.({ ...verdicts, findings: { ...verdicts.findings, suspects } });
	let back: Mended | undefined;
	const found = yield* findStepwise(scene, base, first, (open) => {
		back = putBack(plan, readings, { scene: raw, base: before }, { scene, base, damage }, open);
		return back !== undefined;
	});
	if (back) return yield* afterwards(plan, read, back);
	const findings = besides(plan, scene, found, damage);
	yield 1;
	return { ...verdicts, laid: lay(), damage, findings };
}

/** What is said once edges were put back that a recording had lost: of what is still open suspects are looked for anew. */
function* afterwards(plan: Plan, read: readonly TypedReading[], { scene, base, damage }: Mended): Stepwise<WholeCheck> {
	const explained = base.every(explains);
	const found = explained ? { base, explained, suspects: [] } : yield* findStepwise(scene, base);
	const findings = besides(plan, scene, found, damage);
	yield 1;
	return { ...verdictsOf(scene, findings, read, damage), laid: layAll(scene, base, (line) => ratioRange(scene, line)) };
}

/** A plan with lines that were mended, each group weighed anew, and what was wrong with them. */
interface Mended {
	scene: Scene;
	base: Weighed[];
	damage: Damage[];
}

/** The plan with those lines mended whose groups, or recordings, it then explains; undefined where there is none. `raw`: as they were recorded. */
function putBack(
	plan: Plan,
	readings: readonly Observed[],
	raw: Pick<Mended, 'scene' | 'base'>,
	clean: Mended,
	open: readonly Group[]
): Mended | undefined {
	const numbers = new Set(open.map(({ number }) => number));
	const groups = raw.scene.groups.filter(({ number }) => numbers.has(number));
	const found = restored(raw.scene, raw.base, groups);
	if (found.size === 0) return undefined;
	const own = clean.scene.lines.flatMap(({ witness, reading }, line) => (reading ? [] : [{ witness, line }]));
	const again = (lines: ReadonlySet<number>) =>
		sceneOf(
			plan,
			own.map(({ witness, line }) => (lines.has(line) ? found.get(line)!.witness : witness)),
			readings
		);
	const broken = unexplainedLines(weighAll(again(new Set(found.keys()))));
	const mendedBy = open.map(({ lines }) => lines.map(({ number }) => number)).filter((lines) => !lines.some((line) => broken.has(line)));
	const good = new Set(mendedBy.flat().filter((line) => found.has(line)));
	if (good.size === 0) return undefined;
	const scene = again(good);
	const told = new Set([...good].map((line) => named(raw.scene.lines[line].witness)));
	const damage = clean.damage.filter(({ recording, lines }) => !lines.every((line) => told.has(named({ recording, line }))));
	return { scene, base: weighAll(scene), damage: [...damage, ...[...good].flatMap((line) => found.get(line)!.damage)] };
}

const named = ({ recording, line }: Pick<Witness, 'recording' | 'line'>) => JSON.stringify([recording, line]);

/** All that is said of a plan besides its suspects. */
function verdictsOf(scene: Scene, findings: Findings, read: readonly TypedReading[], damage: Damage[]): WholeCheck {
	const range = (line: number) => ratioRange(scene, line);
	const aims = scene.derivation.aims.flatMap((one): CheckedAim[] => {
		const lines = shownOf(scene, one.aim.id);
		const own = read.filter(({ observed }) => observed.witness.aim === one.aim.id);
		if (lines.length === 0 && own.length === 0) return [];
		return [withReadings(checkedAim(scene, findings, one.aim.id, lines), own, lines.length > 0)];
	});
	return {
		scene,
		asSet: worstOf(aims.map(({ asSet }) => asSet)),
		asWished: worstOf(aims.map(({ asWished }) => asWished)),
		aims,
		findings,
		damage,
		laid: [],
		turned: turnAround(scene, findings.base, range)
	};
}

/** What breaks a line's own rhythm is taken out before anybody is suspected: of lines alone that the plan does not explain as they are. */
function mended(plan: Plan, readings: readonly Observed[], raw: Scene, base: Weighed[]): Mended {
	const broken = unexplainedLines(base);
	const shortest = new Map(
		raw.groups.flatMap(({ number: group, lines }) => lines.map(({ number }, i) => [number, shortestOf(base[group].courses[i])]))
	);
	const clean = raw.lines.flatMap(({ witness, reading }, i) =>
		reading ? [] : [broken.has(i) ? cleaned(witness, shortest.get(i) ?? 0) : { witness, damage: [] }]
	);
	const damage = clean.flatMap((one) => one.damage);
	if (damage.length === 0) return { scene: raw, base, damage };
	const scene = sceneOf(
		plan,
		clean.map(({ witness }) => witness),
		readings
	);
	const after = weighAll(scene);
	if (after.every(explains)) return { scene, base: after, damage };
	// What one mistake of the whole recording explains as it is has nothing in it to be taken out.
	const told = new Set(damage.map(({ recording }) => recording));
	const whole = new Set([...told].filter((recording) => variantsOf(ownLines(raw, recording)).some((one) => variantGuess(plan, one))));
	if (whole.size === 0) return { scene, base: after, damage };
	if (whole.size === told.size) return { scene: raw, base, damage: [] };
	const untouched = raw.lines.flatMap(({ witness, reading }) => (reading ? [] : [witness]));
	const kept = clean.map(({ witness }, i) => (whole.has(witness.recording) ? untouched[i] : witness));
	const partly = sceneOf(plan, kept, readings);
	return { scene: partly, base: weighAll(partly), damage: damage.filter(({ recording }) => !whole.has(recording)) };
}

/** What was recorded together, readings left out. */
function ownLines({ lines }: Scene, recording: string): Witness[] {
	return lines.flatMap(({ witness, reading }) => (witness.recording === recording && !reading ? [witness] : []));
}

/** The shortest pulse of a course; 0 for one that is still or unknown. */
function shortestOf(course: Course | undefined): number {
	if (!course || course.times.length < 2) return 0;
	let least = Infinity;
	for (let i = 1; i < course.times.length; i++) least = Math.min(least, course.times[i] - course.times[i - 1]);
	return least;
}

type Variant = { code: Damage['code']; found: string; usual: number; recording: string; lines: string[]; witnesses: Witness[] };

/** Mistakes of a recording itself stand among the suspects; one that comes first of what explains the recording is damage. */
function besides(plan: Plan, scene: Scene, { base, ...findings }: Findings, damage: Damage[]): Findings {
	const suspects = [...findings.suspects];
	const broken = new Set([...unexplainedLines(base)].map((line) => scene.lines[line].witness.recording));
	for (const recording of broken) {
		const own = ownLines(scene, recording);
		for (const variant of variantsOf(own)) {
			const guess = variantGuess(plan, variant);
			if (!guess) continue;
			const about = { aims: [...new Set(own.map(({ aim }) => aim))], recording };
			const one: Suspect = { ...guess, explains: true, worst: 0, squares: 0, ties: [], about };
			if (putAmong(suspects, one, recording, about.aims)) damage.push({ code: variant.code, recording, lines: variant.lines, count: 1 });
		}
	}
	return { ...findings, base, suspects };
}

/** The recording as it would be without the mistake, where the plan then explains all of it. */
function variantGuess(plan: Plan, { code, found, usual, witnesses }: Variant): Guess | undefined {
	const other = sceneOf(plan, witnesses);
	if (!weighAll(other).every(explains)) return undefined;
	return {
		codes: [code],
		where: [{ timer: '', what: 'recording', planned: 'as it is', found }],
		usual,
		weighed: new Map(),
		changed: new Map()
	};
}

/** Puts a mistake of a recording in front of what explains the same less simply, or less usually; else beside it. True where it is first. */
function putAmong(suspects: Suspect[], one: Suspect, recording: string, aims: readonly string[]): boolean {
	const same = ({ about }: Suspect) =>
		!about || about.recording === recording || (about.recording === undefined && about.aims.some((aim) => aims.includes(aim)));
	const at = suspects.findIndex((each) => each.explains && same(each));
	const known = at < 0 ? undefined : suspects[at];
	if (known && known.codes.length === 1 && known.usual <= one.usual) {
		known.ties.push(one);
		return false;
	}
	suspects.splice(Math.max(0, at), known ? 1 : 0, known && known.codes.length === 1 ? { ...one, ties: [known, ...known.ties] } : one);
	return true;
}

const MOST_PAIRS = 12;

/** What one recording would be without each mistake. */
function variantsOf(own: readonly Witness[]): Variant[] {
	if (own.length === 0) return [];
	const frame = { recording: own[0].recording, lines: own.map(({ line }) => line) };
	const pairs = own.flatMap((a, i) => own.slice(i + 1).map((b) => [a, b] as const)).slice(0, MOST_PAIRS);
	return [
		{ ...frame, code: 'inverted-probe', found: 'inverted', usual: own.length > 1 ? 10 : 41, witnesses: own.map(inverted) },
		...[10, 1 / 10].map((by): Variant => {
			const witnesses = own.map((one) => stretched(one, by));
			return { ...frame, code: 'time-base-off', found: String(by), usual: 28, witnesses };
		}),
		...pairs.map(([a, b]): Variant => {
			const swapped = (one: Witness) =>
				one === a ? { ...a, aim: b.aim, role: b.role } : one === b ? { ...b, aim: a.aim, role: a.role } : one;
			return {
				...frame,
				lines: [a.line, b.line],
				code: 'swapped-channels',
				found: `${a.line}, ${b.line}`,
				usual: 24,
				witnesses: own.map(swapped)
			};
		})
	];
}

function inverted(one: Witness): Witness {
	const { trace } = one;
	const turn = (level: Level): Level => (level === 2 ? 2 : ((1 - level) as Level));
	const builder = new TraceBuilder(turn(trace.meta.initial));
	trace.forEdges(0, trace.count, (time, level) => builder.add(time, turn(level)));
	return { ...one, trace: builder.finish(trace.meta) };
}

function stretched(one: Witness, by: number): Witness {
	const factor = by > 1 ? Rational.int(by) : Rational.ratio(1, Math.round(1 / by));
	const { trace, step } = one;
	const builder = new TraceBuilder(trace.meta.initial);
	trace.forEdges(0, trace.count, (time, level) => builder.add(time, level));
	const made: Trace = builder.finish({ ...trace.meta, unit: trace.meta.unit.mul(factor) });
	return { ...one, trace: made, step: { ...step, step: step.step.mul(factor), ...(step.raster && { raster: step.raster.mul(factor) }) } };
}

function shownOf({ lines, groups }: Scene, aim: string): ShownLine[] {
	const placed = new Set(groups.flatMap((group) => group.lines.map(({ number }) => number)));
	return lines.flatMap(({ witness, reading }, i) => (witness.aim === aim && !reading && placed.has(i) ? [witness] : []));
}

/** Readings stand beside recordings: the worst of all counts. */
function withReadings(aim: CheckedAim, read: readonly TypedReading[], recorded: boolean): CheckedAim {
	const outcome = (good: boolean): Outcome => (good ? 'within' : 'outside');
	const own = read.filter(({ judged }) => !judged.beyond);
	const judged = (of: (one: TypedReading['judged']) => boolean) => own.map((one) => outcome(of(one.judged)));
	const all = (before: Outcome, more: Outcome[]) => worstOf([...(recorded ? [before] : []), ...more]);
	return {
		...aim,
		asSet: all(
			aim.asSet,
			judged(({ asSet }) => asSet.explained)
		),
		asWished: all(
			aim.asWished,
			judged(({ asSet, asWished }) => (asWished ?? asSet).within)
		),
		quantities: [...aim.quantities, ...read.map(({ quantity }) => quantity)]
	};
}

function checkedAim(scene: Scene, findings: Findings, aim: string, lines: readonly ShownLine[]): CheckedAim {
	const { derivation, plan } = scene;
	const one = derivation.aims.find((each) => each.aim.id === aim)!;
	const leader = leaderOf(one.aim);
	const chain = firstOf(plan, aim);
	const beside = (role: string, recording: string) => {
		const other = role === 'leader' ? leader : role === 'first' ? chain : undefined;
		return other === undefined ? undefined : shownOf(scene, other).find((line) => line.recording === recording);
	};
	// A line of rows has no one period from rise to rise: it stands or falls with its laying.
	const rowed = new Set(findings.base.flatMap(({ all }) => all.flatMap(({ line, of }) => (of === 'rows' ? [line] : []))));
	const steady = lines.filter((line) => !rowed.has(scene.lines.findIndex(({ witness }) => witness === line)));
	const verdict = judgeAim(one, derivation.clocks, steady, beside);
	const own = new Set(scene.lines.flatMap(({ witness }, i) => (witness.aim === aim ? [i] : [])));
	const broken = unexplainedLines(findings.base);
	const compared = findings.base.some(({ all }) => all.some(({ line }) => own.has(line)));
	const explained = compared ? ![...own].some((line) => broken.has(line)) : undefined;
	const judged = verdict.quantities.some(({ asSet }) => asSet) || verdict.reasons.length > 0;
	// Steady lines have their exact quantities.
	const worst = (outcome: Outcome): Outcome => {
		if (explained === undefined) return outcome;
		if (!judged) return explained ? 'within' : 'outside';
		return outcome === 'within' && !explained && !allSteady(scene, findings, own) ? 'outside' : outcome;
	};
	return { ...verdict, aim, ...(explained !== undefined && { explained }), asSet: worst(verdict.asSet), asWished: worst(verdict.asWished) };
}

function allSteady({ groups }: Scene, { base }: Findings, own: ReadonlySet<number>): boolean {
	return groups.every(({ lines, number }) =>
		lines.every((line, i) => !own.has(line.number) || base[number].courses[i]?.steady !== undefined)
	);
}

function firstOf(plan: Plan, aim: string): string | undefined {
	let at = plan.aims.find(({ id }) => id === aim);
	for (let steps = 0; at && steps < plan.aims.length; steps++) {
		const leader = leaderOf(at);
		if (leader === undefined) return at.id === aim ? undefined : at.id;
		at = plan.aims.find(({ id }) => id === leader);
	}
	return undefined;
}
