import { turnsAtEvents } from '../check/index.js';
import { Rational } from '../exact/index.js';
import type { AimDerivation, PlannedLane } from '../aims/index.js';
import { derivePlan, type Plan, type PlanDerivation } from '../plan/index.js';
import { planSystem, replayStart } from '../predict/index.js';
import { groupsOf, Predictor, type Prediction, type SimSystem, type SimTimer } from '../sim/index.js';
import { StretchedTrace } from '../trace/index.js';
import { bestRatio, compareDelay, compareLine, compareReading, compareShots, residual, riseIn, type Compared } from './compare.js';
import { courseOf, type Course } from './course.js';
import { observe, type Observed, type Witness } from './observed.js';

/** Timers that hang on each other, with the lines that show them: what is predicted at once. */
export interface Group {
	number: number;
	system: SimSystem;
	/** Of a base cycle. */
	seconds: number;
	lines: GroupLine[];
	aims: AimDerivation[];
	/** Where plan time 0 falls in the recording, in seconds, where a recorded input drives the group. */
	laid?: number;
}

export interface GroupLine {
	/** Number among all lines. */
	number: number;
	seen: Observed;
	lane: PlannedLane;
}

/** A plan with what was recorded of it. */
export interface Scene {
	plan: Plan;
	derivation: PlanDerivation;
	lines: Observed[];
	groups: Group[];
	/** Every timer of the plan, those too that no line shows. */
	timers: SimTimer[];
}

/** Roles of what comes to inputs. */
const INPUT_ROLES = ['trigger', 'input', 'a', 'b'];

/** Puts recorded lines beside the plan; those at inputs drive it. */
export function sceneOf(plan: Plan, witnesses: readonly Witness[], readings: readonly Observed[] = []): Scene {
	const inputs = witnesses.filter(({ role }) => INPUT_ROLES.includes(role));
	const driven = drivenPlan(plan, inputs);
	const derivation = derivePlan(driven);
	const traces = new Map(inputs.map((one) => [`${one.recording} ${one.line}`, one.trace]));
	const planned = planSystem(derivation, (recording, line) => traces.get(`${recording} ${line}`));
	const lines = [...witnesses.map(observe), ...readings];
	const shown = new Set(witnesses.map(({ aim }) => aim).concat(readings.map(({ witness }) => witness.aim)));
	const looked = derivation.aims.flatMap(({ aim }) => (shown.has(aim.id) ? [aim.timer] : []));
	const needed = shown.size === 0 ? planned.system : systemOf(planned.system, looked);
	const groups = groupsOf(needed).map((system, number): Group => {
		const timers = new Set(system.timers.map(({ id }) => id));
		const aims = derivation.aims.filter(({ aim }) => timers.has(aim.timer));
		const own = new Set(aims.map(({ aim }) => aim.id));
		const fed = inputs.filter(({ aim }) => own.has(aim)).map(({ trace }) => trace);
		return {
			number,
			system,
			seconds: planned.unit.toNumber(),
			aims,
			lines: lines.flatMap((seen, at): GroupLine[] => {
				const lane = own.has(seen.witness.aim) && laneOf(planned.lanes, seen.witness);
				return lane ? [{ number: at, seen, lane }] : [];
			}),
			...(fed.length > 0 && { laid: replayStart(fed) })
		};
	});
	return { plan: driven, derivation, lines, groups, timers: planned.system.timers };
}

/** A system of some timers and those that lead them. */
function systemOf(system: SimSystem, timers: Iterable<string>): SimSystem {
	const kept = new Set(timers);
	for (let before = -1; before !== kept.size;) {
		before = kept.size;
		for (const { id, trigger } of system.timers) if (kept.has(id) && trigger && 'timer' in trigger.from) kept.add(trigger.from.timer);
	}
	if (system.timers.every(({ id }) => kept.has(id))) return system;
	return {
		...system,
		timers: system.timers.filter(({ id }) => kept.has(id)),
		writes: system.writes.filter(({ timer }) => kept.has(timer))
	};
}

function drivenPlan(plan: Plan, inputs: readonly Witness[]): Plan {
	const stimuli = { ...plan.stimuli };
	for (const { aim } of inputs) {
		const own = inputs.filter((one) => one.aim === aim);
		const first = own.find(({ role }) => role !== 'b') ?? own[0];
		const second = own.find(({ role }) => role === 'b');
		stimuli[aim] = { kind: 'recorded', recording: first.recording, line: first.line, second: second?.line ?? '', log: '' };
	}
	return { ...plan, stimuli };
}

/** The lane that a mapped line shows; inputs of the plan are no lanes to be held against. */
function laneOf(lanes: readonly PlannedLane[], { aim, role }: Witness): PlannedLane | undefined {
	if (INPUT_ROLES.includes(role)) return undefined;
	const wanted = role === 'event' ? 'events' : role;
	const own = lanes.filter((lane) => lane.aim === aim && !INPUT_ROLES.includes(lane.role));
	return own.find((lane) => lane.role === wanted) ?? own.find(({ detail, shows }) => !detail && shows.kind !== 'counter');
}

/** What becomes of a group when its timers are set so: a changed system, or another length of its base cycle. */
export interface Setting {
	system: SimSystem;
	seconds: number;
}

/** Moments that a prediction may take. */
const [FIRST_MOMENTS, GUESS_MOMENTS, MOST_MOMENTS] = [640, 5000, 40_000];
/** Edges of a line that tell whether it is steady. */
const TELLING = 64;
/** Base cycles in which anything steady has settled. */
const LONG = 2 ** 46;

/** What the group's lines do, set as they are; in the order of its lines. */
export function predict(group: Group, { system: whole, seconds }: Setting, far = whole === group.system): (Course | undefined)[] {
	const timers = new Map(group.aims.map(({ aim }) => [aim.id, aim.timer]));
	const system = systemOf(
		whole,
		group.lines.map(({ seen }) => timers.get(seen.witness.aim) ?? '')
	);
	const longest = group.lines.reduce((most, { seen }) => Math.max(most, seen.to - seen.from), 0);
	// A reading says nothing of how long it took.
	const until = group.lines.some(({ seen }) => seen.reading) ? LONG : Math.ceil((4 * longest) / seconds) + 1000;
	const predictor = new Predictor(system, Rational.one);
	const fed = system.writes.length > 0 || system.timers.some(({ sequences, pattern }) => sequences !== undefined || pattern !== undefined);
	// There are many guesses: what they do must show soon.
	const most = far ? MOST_MOMENTS : GUESS_MOMENTS;
	const last = Math.min(until, 2 ** 52);
	let ended = predictor.runTo(last, FIRST_MOMENTS);
	let found = predictor.prediction();
	for (let moments = FIRST_MOMENTS; !ended && moments < most && !enough(group, found, fed); moments += moments) {
		ended = predictor.runTo(last, moments);
		found = predictor.prediction();
	}
	return group.lines.map(({ lane }): Course | undefined => {
		const { shows } = lane;
		if (shows.kind === 'pin') {
			const trace = found.outputs.get(shows.output);
			return trace && courseOf(trace, seconds, { whole: ended, fed, until: found.until * seconds });
		}
		const one = group.aims.find(({ aim }) => aim.id === lane.aim);
		const updates = one?.timer && found.timers.get(one.timer.id)?.updates;
		if (!one || !updates) return undefined;
		const first = group.system.timers.find(({ id }) => id === one.timer!.id)!;
		const planned = plannedInterval(one, first.kernel * group.seconds * first.prescale);
		const base = eventsEvery(updatesOf(group, first.id), group.seconds);
		const now = eventsEvery(updates, seconds);
		if (planned === undefined || base === undefined || now === undefined) return undefined;
		const interval = (planned / base) * now;
		return one.run.counted ? countedCourse(one, lane.role, interval) : markCourse(interval);
	});
}

/** Is every pin followed as far as its recording can show it, or far enough to know how it goes on? */
function enough({ lines }: Group, { outputs }: Prediction, fed: boolean): boolean {
	return lines.every(({ lane: { shows }, seen }) => {
		if (shows.kind !== 'pin') return false;
		const trace = outputs.get(shows.output);
		if (!trace || trace.count < TELLING) return false;
		const steady = courseOf(trace, 1, { whole: false, fed, until: 0 }).turn !== undefined;
		return steady || trace.count > 2 * seen.edges.length + TELLING;
	});
}

const updatesKnown = new WeakMap<Group, Map<string, StretchedTrace | undefined>>();

/** The updates of a timer as it is planned. */
function updatesOf(group: Group, timer: string): StretchedTrace | undefined {
	let known = updatesKnown.get(group);
	if (!known) {
		const predictor = new Predictor(group.system, Rational.one);
		predictor.runTo(2 ** 40, MOST_MOMENTS);
		known = new Map([...predictor.prediction().timers].map(([id, { updates }]) => [id, updates]));
		updatesKnown.set(group, known);
	}
	return known.get(timer);
}

function plannedInterval({ run }: AimDerivation, tick: number): number | undefined {
	return run.interval && run.interval.ticks * tick;
}

/** Seconds from one event to the next once all is steady. */
function eventsEvery(events: StretchedTrace | undefined, seconds: number): number | undefined {
	if (!events || events.count < 2) return undefined;
	const repeat = events.columns.repeats.at(-1);
	if (repeat && repeat.count > 0) return (repeat.period / repeat.count) * seconds;
	return ((events.edgeTime(events.count - 1) - events.edgeTime(0)) / (events.count - 1)) * seconds;
}

/** Software that holds an output for so many ticks of a frame. */
function countedCourse({ run, strip }: AimDerivation, role: string, interval: number): Course | undefined {
	const frame = strip.find(({ name }) => name === 'factors')?.value;
	const ticks = run.counted?.find(({ name }) => name === role)?.ticks;
	if (frame === undefined || ticks === undefined) return undefined;
	if (ticks <= 0 || ticks >= frame) return { level: ticks > 0 ? 1 : 0, times: new Float64Array(0) };
	const [high, period] = [ticks * interval, frame * interval];
	return { level: 1, times: Float64Array.of(high, period), turn: { first: 0, count: 2, period }, steady: { period, high } };
}

/** Marks that rise at every event; how long they last is nobody's business. */
function markCourse(interval: number): Course {
	const times = Float64Array.of(interval, 1.5 * interval);
	return { level: 0, times, turn: { first: 0, count: 2, period: interval }, steady: { period: interval, high: interval / 2 } };
}

/** All that was measured on a group's lines beside what is predicted of them. */
export function compareGroup(group: Group, courses: readonly (Course | undefined)[]): Compared[] {
	const all: Compared[] = [];
	group.lines.forEach(({ number, seen, lane }, i) => {
		const course = courses[i];
		if (!course) return;
		if (seen.reading) {
			all.push(...compareReading(number, seen.reading, course, delayOf(group, i, courses)));
			return;
		}
		if (isShot(group, lane)) {
			all.push(...compareShots(number, seen, course));
			return;
		}
		const own = compareLine(number, seen, course, group.laid);
		all.push(...(lane.shows.kind === 'events' ? ofEvents(seen, own) : own));
		// One delay ties a line to the lines before it: the first of them in the same recording.
		const first = group.lines.findIndex(
			(other, j) =>
				j < i &&
				courses[j]?.steady !== undefined &&
				other.seen.witness.recording === seen.witness.recording &&
				other.lane.shows.kind === 'pin'
		);
		if (first < 0 || lane.shows.kind !== 'pin') return;
		const delay = compareDelay(number, [seen, group.lines[first].seen], [course, courses[first]!]);
		if (delay) all.push(delay);
	});
	return all;
}

/** Of events only how far they are apart counts: how long each shows is nobody's business. */
function ofEvents({ measures, witness }: Observed, own: readonly Compared[]): Compared[] {
	const turns = turnsAtEvents(measures, witness.step.step);
	return own
		.filter(({ of }) => of === 'period' || of === 'edges')
		.map((one) => (turns && one.of === 'period' ? { ...one, measured: one.measured / 2, part: one.part / 2 } : one));
}

/** How far a line is predicted behind the pin of its leader, within a period; undefined where it follows none that is a line too. */
function delayOf({ lines, aims }: Group, at: number, courses: readonly (Course | undefined)[]): number | undefined {
	const route = aims.find(({ aim }) => aim.id === lines[at].seen.witness.aim)?.route;
	const leader = lines.findIndex(({ seen }) => seen.witness.aim === route?.leader);
	const [own, first] = [courses[at], courses.at(leader)];
	if (leader < 0 || !own?.steady || !first?.steady) return undefined;
	const { period } = own.steady;
	const apart = riseIn(own) - riseIn(first);
	return apart - period * Math.floor(apart / period + 1e-9);
}

/** Is a lane a one-shot's whose trigger nobody recorded? Then only the pulses themselves count. */
function isShot(group: Group, { shows }: PlannedLane): boolean {
	if (shows.kind !== 'pin' || group.laid !== undefined) return false;
	return group.system.timers.some(
		({ id, channels, oneShot }) => oneShot && channels.some((channel) => shows.output === `${id}.${channel.id}`)
	);
}

/** The worst residual of all that was compared, with a clock ratio of its own for every recording. */
export function residualsOf(
	all: readonly Compared[],
	lines: readonly Observed[],
	range: (line: Observed) => readonly [number, number]
): { worst: number; squares: number; residuals: number[] } {
	const residuals = new Array<number>(all.length).fill(0);
	for (const recording of new Set(all.map(({ line }) => lines[line].witness.recording))) {
		const own = all.flatMap((one, i) => (lines[one.line].witness.recording === recording ? [i] : []));
		const ratio = bestRatio(
			own.map((i) => all[i]),
			range(lines[all[own[0]].line])
		);
		for (const i of own) residuals[i] = residual(all[i], ratio);
	}
	return {
		worst: residuals.reduce((most, one) => Math.max(most, one), 0),
		squares: residuals.reduce((sum, one) => sum + Math.min(1e12, one * one), 0),
		residuals
	};
}
