import { kindOf, linkOf, type AimDerivation, type PlannedLane } from '../../src/core/aims/index.js';
import { checkPlan } from '../../src/core/check/index.js';
import { Rational } from '../../src/core/exact/index.js';
import { derivePlan, type Plan, type PlanDerivation } from '../../src/core/plan/index.js';
import { planSystem, type PlannedSystem } from '../../src/core/predict/index.js';
import { Predictor, type Prediction } from '../../src/core/sim/index.js';
import type { LevelSource, StretchedTrace } from '../../src/core/trace/index.js';

/** Where the derivation of a plan and a measurement of the simulator's own edges differ. */
export interface Difference {
	aim: string;
	kind: string;
	what: string;
	derived: string;
	measured: string;
}

/** Moments that one plan may take: beyond them it is left alone. */
const MOST = 400_000;
/** Periods that pass before anything is measured, and that are measured. */
const SETTLE = 6;
const MEASURED = 3;

interface Scene {
	derivation: PlanDerivation;
	planned: PlannedSystem;
	prediction: Prediction;
	until: number;
}

/** Predicts long enough for every aim to settle, and holds each against what was derived. undefined: it would take too long. */
export function differences(plan: Plan): Difference[] | undefined {
	const derivation = derivePlan(plan);
	const planned = planSystem(derivation);
	const seconds = derivation.aims.reduce((most, one) => Math.max(most, slowest(one)), 0);
	const until = Math.ceil(((SETTLE + MEASURED + 2) * seconds) / planned.unit.toNumber());
	if (until === 0 || planned.system.timers.length === 0) return [];
	const predictor = new Predictor(planned.system, planned.unit);
	if (!predictor.runTo(until, MOST)) return undefined;
	const scene: Scene = { derivation, planned, prediction: predictor.prediction(), until };
	const broken = new Set(
		checkPlan(derivation).flatMap(({ severity, code, aim }) => (severity === 'fault' && BROKEN.has(code) ? [aim] : []))
	);
	const sound = (one: AimDerivation) => !broken.has(one.aim.id) && !broken.has(one.route?.leader);
	return derivation.aims.filter(sound).flatMap((one) => {
		// What has no lane says so itself, and is not predicted.
		if (planned.unplanned.some(({ aim }) => aim === one.aim.id)) return [];
		return CHECKS.flatMap((check) => check(scene, one)).map((found) => ({ aim: one.aim.id, kind: one.aim.kind, ...found }));
	});
}

/** Faults after which nothing that was derived can hold. */
const BROKEN = new Set([
	'timer-taken',
	'mode-clash',
	'drifts',
	'lag-beyond',
	'lag-below-latency',
	'duty-outside',
	'write-late',
	'pattern-breaks',
	'row-outside',
	'cannot-buffer',
	'service-over-period',
	'leader-ring',
	'no-action',
	'bit-twice',
	'channel-shared',
	'period-moves',
	'stream-taken',
	'repeat-shared',
	'trigger-shared',
	'reset-cuts',
	'lead-twice',
	'lead-unmet',
	'lead-moves',
	'gate-never'
]);

type Found = Omit<Difference, 'aim' | 'kind'>;
type Check = (scene: Scene, derivation: AimDerivation) => Found[];

/** Seconds of an aim's slowest period. */
function slowest({ figures, run, pulse }: AimDerivation): number {
	const rate = figures.find(({ name }) => ['base', 'rate', 'repeats', 'pace'].includes(name))?.value;
	const updates = figures.find(({ name }) => name === 'updates')?.value;
	const frame = figures.find(({ name }) => name === 'frame')?.value;
	const all = [run.interval?.seconds, frame, updates?.inverse(), pulse?.period, rate && rate.sign > 0 ? rate.inverse() : undefined];
	return Math.max(0, ...all.map((time) => time?.toNumber() ?? 0));
}

function figure({ figures }: AimDerivation, name: string): Rational | undefined {
	return figures.find((one) => one.name === name)?.value;
}

function compare(what: string, derived: Rational, measured: Rational | string): Found[] {
	const text = measured instanceof Rational ? measured.toString() : measured;
	return derived.toString() === text ? [] : [{ what, derived: derived.toString(), measured: text }];
}

/** The first moment, in base cycles, from which everything has settled: after so many of the slowest of the plan's periods. */
function settled({ derivation, planned }: Scene): number {
	const seconds = Math.max(...derivation.aims.map(slowest));
	return Math.ceil((SETTLE * seconds) / planned.unit.toNumber());
}

function pinOf({ prediction, planned }: Scene, aim: string, role: string): LevelSource | undefined {
	const lane = planned.lanes.find((one: PlannedLane) => one.aim === aim && one.role === role && !one.detail);
	if (lane?.shows.kind === 'pin') return prediction.outputs.get(lane.shows.output);
	return lane?.shows.kind === 'level' ? lane.shows.trace : undefined;
}

/** Times from `from` on at which a line takes a level, at most so many. */
function timesTo(source: LevelSource & { count?: number }, level: 0 | 1, from: number, most: number, until: number): number[] {
	const times: number[] = [];
	const last = source.edgesBefore(until);
	for (let edge = source.edgesBefore(from); edge < last && times.length < most; edge++)
		if (source.levelAfter(edge + 1) === level) times.push(source.edgeTime(edge));
	return times;
}

/** Frequency, high width and duty of every line that is said to pulse steadily. */
const steady: Check = (scene, one) => {
	const { unit } = scene.planned;
	const from = settled(scene);
	return kindOf(one.aim)
		.expect(one)
		.flatMap(({ of, line, planned }): Found[] => {
			if (of !== 'frequency' && of !== 'high' && of !== 'duty') return [];
			const pin = pinOf(scene, one.aim.id, line);
			if (!pin) return [{ what: `${line}: ${of}`, derived: planned.toString(), measured: 'no such line' }];
			// Where compares move, so may the rises: a shape keeps its carrier over all of its rows.
			const turn = one.run.rows?.length ?? 1;
			const rises = timesTo(pin, 1, from, turn * MEASURED + 1, scene.until).filter((_, i) => i % turn === 0);
			if (rises.length < 2) {
				// A line that stands still all the time is what no or full duty wants.
				const level = pin.levelAfter(pin.edgesBefore(from));
				if (of === 'duty') return compare(`${line}: duty`, planned, Rational.int(level));
				return of === 'high' && planned.sign === 0 && level === 0 ? [] : still(one, of, level);
			}
			return rises.slice(1).flatMap((rise, i) => {
				const period = unit.mul(Rational.ratio(rise - rises[i], turn));
				const fall = timesTo(pin, 0, rises[i] + 1, 1, scene.until)[0];
				const high = unit.mul(Rational.int((fall ?? rise) - rises[i]));
				return compare(`${line}: ${of}`, planned, of === 'frequency' ? period.inverse() : of === 'high' ? high : high.div(period));
			});
		});
};

/** A line without edges has no period: only full or no duty may leave it so. */
function still({ pulse, run }: AimDerivation, of: string, level: number): Found[] {
	if (pulse && (pulse.activeTicks === 0 || pulse.activeTicks === pulse.ticks)) return [];
	// A shape whose rows are all at an end.
	if (run.rows) return [];
	return [{ what: of, derived: 'pulses', measured: `still at ${level}` }];
}

/** Periods of the timer that updates come in: the "updates" of a pair, the ticks of a tick, the words of a pattern. */
const updates: Check = (scene, one) => {
	const story = one.timer && scene.prediction.timers.get(one.timer.id);
	const rate = figure(one, 'updates') ?? (one.words ? figure(one, 'pace') : undefined) ?? one.run.interval?.seconds.inverse();
	if (!story || !rate || one.run.counted) return [];
	// A tick that shares a freely running counter has events of its own.
	const events = scene.planned.lanes.find(({ aim, role }) => aim === one.aim.id && role === 'events')?.shows;
	const source = events?.kind === 'events' && events.own ? events.own : story.updates;
	const times = eventTimes(source, settled(scene), MEASURED + 1, scene.until);
	if (times.length < 2) return [{ what: 'updates', derived: rate.toString(), measured: 'none' }];
	return times.slice(1).flatMap((time, i) => compare('updates', rate, scene.planned.unit.mul(Rational.int(time - times[i])).inverse()));
};

function eventTimes(source: StretchedTrace, from: number, most: number, until: number): number[] {
	const times: number[] = [];
	for (let i = source.edgesBefore(from); i < source.count && times.length < most; i++) {
		if (source.edgeTime(i) >= until) break;
		times.push(source.edgeTime(i));
	}
	return times;
}

/** The gap between the two outputs of a pair, at each side. */
const gaps: Check = (scene, one) =>
	kindOf(one.aim)
		.expect(one)
		.flatMap(({ of, line, against, planned }): Found[] => {
			if (of !== 'gap') return [];
			const [falling, rising] = [line, against!].map((role) => pinOf(scene, one.aim.id, role));
			if (!falling || !rising) return [];
			const fall = timesTo(falling, 0, settled(scene), 1, scene.until)[0];
			const rise = fall === undefined ? undefined : timesTo(rising, 1, fall, 1, scene.until)[0];
			if (rise === undefined) return [];
			return compare(`gap after ${line}`, planned, scene.planned.unit.mul(Rational.int(rise - fall)));
		});

/** The lag of a follower's period behind its leader's. */
const lag: Check = (scene, one) => {
	const [wanted, leader] = [figure(one, 'lag'), scene.derivation.aims.find(({ aim }) => aim.id === one.route?.leader)];
	const [own, led] = [one.timer, leader?.timer].map((timer) => timer && scene.prediction.timers.get(timer.id)?.updates);
	if (!wanted || !own || !led) return [];
	const from = settled(scene);
	const begins = eventTimes(own, from, 1, scene.until)[0];
	const period = leader?.pulse?.period ?? figure(leader!, 'rate')?.inverse() ?? figure(leader!, 'carrier')?.inverse();
	const seen = begins === undefined ? undefined : eventTimes(led, 0, Infinity, begins + 1).at(-1);
	// Of a counter that updates at the top alone half a period is over then; one that does it at both ends began at 0.
	const sim = scene.planned.system.timers.find(({ id }) => id === leader?.timer?.id);
	const half = seen === undefined || !period || sim?.mode !== 'updown' || sim.updateAt !== 'top' ? 0 : ticksOf(scene, period) / 2;
	const leads =
		sim?.mode === 'updown' && sim.updateAt === 'both' && sim.trigger === undefined ? 0 : seen === undefined ? undefined : seen - half;
	if (begins === undefined || leads === undefined || !period) return [{ what: 'lag', derived: wanted.toString(), measured: 'no period' }];
	const measured = scene.planned.unit.mul(Rational.int(begins - leads));
	// A lag of a whole period and one of none look alike.
	const turns = wanted.sub(measured).div(period);
	return turns.isInteger ? [] : compare('lag', wanted, measured);
};

function ticksOf({ planned }: Scene, time: Rational): number {
	return time.div(planned.unit).toNumber();
}

/** Duties of a shape's pin, period by period, against its rows. */
const rows: Check = (scene, one) => {
	const { run, table, timer } = one;
	if (!run.rows || !table || !timer) return [];
	const story = scene.prediction.timers.get(timer.id);
	const roles = kindOf(one.aim).channels(one.aim, timer);
	const pin = pinOf(scene, one.aim.id, roles.length === 1 ? 'pin' : roles[0]);
	const duty = table.columns.findIndex(({ name }) => name === 'duty');
	const { writes, prefill, lag: later } = one.aim as unknown as { writes: string; prefill: string; lag: string };
	// A row that is written at once but later lies across two of them.
	if (!story || !pin || (writes === 'immediate' && later !== '0')) return [];
	const late = writes === 'buffered' && prefill !== 'yes' ? 1 : 0;
	const n = run.rows.length;
	const begin = Math.max(2, late + 1);
	return Array.from({ length: Math.min(2 * n, 40) }, (_, i) => begin + i).flatMap((period): Found[] => {
		const [from, to] = [period - 1, period].map((k) => (k < story.updates.count ? story.updates.edgeTime(k) : Infinity));
		if (!(to < scene.until)) return [];
		const row = (((period - late) % n) + n) % n;
		const want = table.rows[row].values[duty];
		if (!(want instanceof Rational)) return [];
		return compare(`row ${row} in period ${period}`, want, Rational.ratio(activeIn(pin, from, to), to - from));
	});
};

function activeIn(pin: LevelSource, from: number, to: number): number {
	let [sum, at] = [0, from];
	for (let edge = pin.edgesBefore(from + 1); at < to; edge++) {
		const next = edge < pin.edgesBefore(to) ? pin.edgeTime(edge) : to;
		if (pin.levelAfter(edge) === 1) sum += next - at;
		at = next;
	}
	return sum;
}

/** Levels of a pattern's lines just before the next word is sent. */
const words: Check = (scene, one) => {
	const story = one.timer && scene.prediction.timers.get(one.timer.id);
	if (!one.words || !story || !('lines' in one.aim)) return [];
	const { lines } = one.aim as unknown as { lines: { name: string; bit: string }[] };
	const lag = Math.ceil((one.run.lagMost ?? one.run.lag!).div(scene.planned.unit).toNumber());
	return Array.from({ length: 12 }, (_, k) => k).flatMap((k): Found[] => {
		if (k + 1 >= story.updates.count) return [];
		const time = story.updates.edgeTime(k + 1) - 1;
		if (time >= scene.until || story.updates.edgeTime(k) + lag > time) return [];
		const { set } = one.words![k % one.words!.length];
		return lines.flatMap(({ name, bit }) => {
			const pin = pinOf(scene, one.aim.id, name);
			const level = Math.floor(set / 2 ** Number(bit)) % 2;
			return pin ? compare(`word ${k} of ${name}`, Rational.int(level), Rational.int(pin.levelAfter(pin.edgesBefore(time + 1)))) : [];
		});
	});
};

/** Delay and width of a one-shot after its first trigger. */
const shot: Check = (scene, one) => {
	const quantities = kindOf(one.aim).expect(one);
	const [delay, width] = (['delay', 'width'] as const).map(
		(name) => quantities.find(({ of, line }) => of === name && line === 'pin')?.planned
	);
	const input = scene.planned.inputs.get(one.aim.id)?.lines.input;
	const pin = pinOf(scene, one.aim.id, 'pin');
	if (!delay || !width || !input || !pin || input.edges.length === 0) return [];
	const timer = scene.planned.system.timers.find(({ id }) => id === one.timer!.id)!;
	const [edge, next] = [input.edges[0], input.edges[2] ?? Infinity];
	const trigger = Math.ceil(edge / timer.kernel) * timer.kernel;
	const [rise, fall] = [timesTo(pin, 1, 0, 1, scene.until)[0], timesTo(pin, 0, 0, 1, scene.until)[0]];
	if (rise === undefined || fall === undefined) return [];
	// A further edge may restart it.
	if (next < fall) return [];
	const time = (cycles: number) => scene.planned.unit.mul(Rational.int(cycles));
	return [...compare('delay', delay, time(rise - trigger)), ...compare('width', width, time(fall - rise))];
};

/** A reload or compare of the strip is what the timer was given. */
const registers: Check = (scene, one) => {
	const timer = scene.planned.system.timers.find(({ id }) => id === one.timer?.id);
	const reload = linkOf(one, 'reload');
	if (!timer || reload === undefined || one.run.rows || one.run.counted || !drives(scene, one)) return [];
	return compare('reload', Rational.int(reload), Rational.int(timer.reload));
};

/** Does an aim count with its timer, and not only listen? */
function drives({ planned }: Scene, { aim }: AimDerivation): boolean {
	return !planned.replays.some((replay) => replay.aim === aim.id);
}

const CHECKS: Check[] = [steady, updates, gaps, lag, rows, words, shot, registers];
