import { Rational } from '../../src/core/exact/index.js';
import type { AimKindName } from '../../src/core/aims/index.js';
import type { Plan } from '../../src/core/plan/index.js';
import { derivePlan } from '../../src/core/plan/index.js';
import { planSystem } from '../../src/core/predict/index.js';
import { Predictor, type Prediction } from '../../src/core/sim/index.js';
import { MISTAKES, sceneOf, type Changed, type Group, type Scene, type Witness } from '../../src/core/suspects/index.js';
import { TraceBuilder, type StretchedTrace, type Trace } from '../../src/core/trace/index.js';
import { Dice, randomPlan, SHIPPED } from '../unit/randomPlans.js';

/** A seeded source of numbers from 0 to 1. */
export function randomFrom(seed: number): () => number {
	let state = seed >>> 0;
	return () => {
		state = (state + 0x6d2b79f5) >>> 0;
		let t = state;
		t = Math.imul(t ^ (t >>> 15), t | 1);
		t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	};
}

/** How a recording was made. */
export interface Making {
	/** Of the recorder's clock over the plan's. */
	ratio: number;
	/** Seconds of a sample. */
	step: number;
	/** Share of a sample between the recording's beginning and its first sample. */
	phase: number;
	/** By which an edge wanders, at the most, in seconds. */
	jitter: number;
	/** When it begins and how long it lasts, in seconds of the plan. */
	from: number;
	length: number;
}

/** A plan, the mistakes that were made, and what was recorded of them. */
export interface Case {
	seed: number;
	plan: Plan;
	codes: string[];
	witnesses: Witness[];
	making: Making;
	/** What was really set, for those who want to look. */
	truth: { group: number; changed: Changed };
}

const PPM = 1e-6;
const INSTRUMENT = 20;

/** Aims on which mistakes are made that others hardly ever show. */
const SHOWN_BY: Partial<Record<string, AimKindName[]>> = {
	'dead-time-doubled': ['pair'],
	'dead-time-unit': ['pair'],
	'third-as-33-percent': ['pwm', 'follower'],
	'timers-exchanged': ['pwm', 'follower', 'toggle'],
	'other-trigger': ['pwm', 'oneshot', 'follower'],
	'latency-uncompensated': ['pwm', 'oneshot', 'follower'],
	'software-reload-lag': ['tick', 'pwm', 'toggle'],
	'software-clear-lag': ['tick', 'divided']
};

/** A random case of so many mistakes, or of one of a kind; undefined where the dice make no plan that shows anything. */
export function makeCase(seed: number, mistakes: number, wanted?: string): Case | undefined {
	const random = randomFrom(seed);
	const dice = new Dice(Array.from({ length: 400 }, () => Math.floor(random() * 2 ** 31)));
	const part = random() < 0.7 ? SHIPPED[Math.floor(random() * SHIPPED.length)] : undefined;
	const plan = randomPlan(dice, part, wanted === undefined ? undefined : SHOWN_BY[wanted]);
	const scene = sceneOf(plan, []);
	const shown = shownLines(scene);
	const groups = scene.groups.filter(({ number }) => shown.some((line) => line.group === number));
	if (groups.length === 0) return undefined;
	const group = groups[Math.floor(random() * groups.length)];
	const lines = shown.filter((line) => line.group === group.number);
	const made = mistaken(scene, group, mistakes, random, wanted);
	if (!made) return undefined;
	return recorded(seed, plan, scene, group, lines, made, random);
}

interface ShownLine {
	group: number;
	aim: string;
	role: string;
	/** A pin of the system, or a timer whose updates each turn a pin that software drives. */
	output?: string;
	timer?: string;
}

/** What of a prediction a line shows. */
const traceOf = ({ outputs, timers }: Prediction, { output, timer }: ShownLine): StretchedTrace | undefined =>
	output === undefined ? timers.get(timer!)?.updates : outputs.get(output);

/** Pins of the plan that move, and events. */
function shownLines(scene: Scene): ShownLine[] {
	const { lanes } = planSystem(derivePlan(scene.plan));
	return lanes.flatMap(({ aim, role, shows, detail }): ShownLine[] => {
		const what =
			shows.kind === 'pin'
				? { output: shows.output }
				: shows.kind === 'events' && shows.timer !== undefined
					? { timer: shows.timer }
					: undefined;
		if (detail || !what) return [];
		const timer = scene.plan.aims.find(({ id }) => id === aim)!.timer;
		const group = scene.groups.find(({ system }) => system.timers.some(({ id }) => id === timer));
		return group ? [{ group: group.number, aim, role, ...what }] : [];
	});
}

function mistaken(
	scene: Scene,
	group: Group,
	count: number,
	random: () => number,
	wanted?: string
): { codes: string[]; changed: Changed } | undefined {
	let [codes, now]: [string[], Group] = [[], group];
	let changed: Changed = { where: { timer: '', what: '', planned: 0, found: 0 }, system: group.system };
	for (let i = 0; i < count; i++) {
		const offers = MISTAKES.filter(({ code }) => !codes.includes(code) && (wanted ?? code) === code).flatMap((mistake) => {
			const ways = [...mistake.of(now, scene), ...lags(now, mistake.code, random)].filter(
				({ shared }) => shared === undefined || scene.groups.length === 1
			);
			return ways.length > 0 ? [{ mistake, ways }] : [];
		});
		if (offers.length === 0) return undefined;
		const { mistake, ways } = offers[Math.floor(random() * offers.length)];
		const next = ways[Math.floor(random() * ways.length)];
		const ppm = next.ppm ?? changed.ppm;
		changed = { ...next, seconds: next.seconds ?? now.seconds, ...(ppm && { ppm }) };
		codes = [...codes, mistake.code];
		now = { ...now, system: changed.system, seconds: changed.seconds! };
	}
	return { codes: codes.sort(), changed };
}

/** Software that comes later than was counted on: by how much only a recording would say. */
function lags({ system }: Group, code: string, random: () => number): Changed[] {
	const mode = code === 'software-reload-lag' ? 'preload' : code === 'software-clear-lag' ? 'clear' : undefined;
	return system.timers
		.filter((timer) => timer.mode === mode)
		.map((timer) => {
			const late = (timer.late ?? 0) + 1 + Math.floor(30 * random());
			return {
				where: { timer: timer.id, what: 'late', planned: timer.late ?? 0, found: late },
				system: { ...system, timers: system.timers.map((one) => (one === timer ? { ...one, late } : one)) }
			};
		});
}

/** Edges that a recording holds on its busiest line. */
const MOST = 2500;

function recorded(
	seed: number,
	plan: Plan,
	scene: Scene,
	group: Group,
	lines: readonly ShownLine[],
	{ codes, changed }: { codes: string[]; changed: Changed },
	random: () => number
): Case | undefined {
	const seconds = changed.seconds ?? group.seconds;
	const predictor = new Predictor(changed.system, Rational.one);
	predictor.runTo(2 ** 50, 60_000);
	const prediction = predictor.prediction();
	const traces = lines.flatMap((line) => {
		const trace = traceOf(prediction, line);
		return trace ? [{ line, trace }] : [];
	});
	const moving = traces.filter(({ trace }) => trace.count >= 8);
	const pace = moving.map(
		({ trace }) => ((trace.edgeTime(Math.min(trace.count, 40) - 1) - trace.edgeTime(0)) * seconds) / (Math.min(trace.count, 40) / 2)
	);
	const planned = plannedPace(scene, group, lines);
	const slowest = Math.max(...pace, ...planned);
	if (!Number.isFinite(slowest) || !(slowest > 0)) return undefined;
	const fastest = Math.min(...pace, slowest);
	const length = Math.min(slowest * (15 + 200 * random()), fastest * MOST * 0.4);
	const from = slowest * 3 * random();
	const node = group.aims[0]?.timer?.kernel ?? '';
	const ppm = changed.ppm ?? scene.derivation.clocks.ppm(node)?.map((one) => one.toNumber()) ?? [0, 0];
	const source = ppm[0] + (ppm[1] - ppm[0]) * random();
	const own = INSTRUMENT * (2 * random() - 1);
	const shortest = Math.min(...moving.map(({ trace }) => shortestPulse(trace) * seconds), fastest);
	const step = 10 ** Math.floor(Math.log10(Math.min(fastest / (40 + 400 * random()), shortest / 2)));
	const making: Making = {
		ratio: (1 + own * PPM) / (1 + source * PPM),
		step,
		phase: random(),
		jitter: random() < 0.5 ? 0 : step * 0.4 * random(),
		from,
		length
	};
	const witnesses = traces.map(({ line, trace }, i): Witness => ({
		recording: 'r',
		line: `line ${i + 1}`,
		aim: line.aim,
		role: line.role,
		trace: sampled(trace, seconds, making, random),
		step: { step: stepOf(step) },
		instrument: Rational.int(INSTRUMENT)
	}));
	return { seed, plan, codes, witnesses, making, truth: { group: group.number, changed } };
}

function shortestPulse(trace: StretchedTrace): number {
	let least = Infinity;
	for (let i = 1; i < Math.min(trace.count, 6000); i++) least = Math.min(least, trace.edgeTime(i) - trace.edgeTime(i - 1));
	return least;
}

/** Mean distances of rises as planned, so that a still or slow line is watched for long enough. */
function plannedPace({ groups }: Scene, group: Group, lines: readonly ShownLine[]): number[] {
	const own = groups[group.number];
	const predictor = new Predictor(own.system, Rational.one);
	predictor.runTo(2 ** 50, 60_000);
	const prediction = predictor.prediction();
	return lines.flatMap((line) => {
		const trace = traceOf(prediction, line);
		if (!trace || trace.count < 8) return [];
		const count = Math.min(trace.count, 40);
		return [((trace.edgeTime(count - 1) - trace.edgeTime(0)) * own.seconds) / (count / 2)];
	});
}

function stepOf(seconds: number): Rational {
	const power = Math.round(Math.log10(seconds));
	return power >= 0 ? Rational.of(10n ** BigInt(power), 1n) : Rational.of(1n, 10n ** BigInt(-power));
}

/** A line as a recorder of even samples shows it; all its lines are sampled at one time. */
function sampled(
	trace: StretchedTrace,
	seconds: number,
	{ ratio, step, phase, jitter, from, length }: Making,
	random: () => number
): Trace {
	const first = trace.edgesBefore(from / seconds);
	const builder = new TraceBuilder(trace.levelAfter(first));
	const end = Math.floor((length * ratio) / step);
	let last = -1;
	for (let i = first; i < trace.count; i++) {
		const time = (trace.edgeTime(i) * seconds - from) * ratio + jitter * (2 * random() - 1);
		const at = Math.ceil(time / step + phase);
		if (at > end) break;
		if (at <= last || at < 0) continue;
		builder.add(at, trace.levelAfter(i + 1));
		last = at;
	}
	return builder.finish({ unit: stepOf(step), start: 0, end });
}

/** Ways in which a recording can be damaged. */
export const DAMAGES = ['missing-edges', 'extra-glitches', 'cut-both-ends', 'inverted-probe', 'swapped-channels', 'time-base-off'] as const;
export type DamageCode = (typeof DAMAGES)[number];

/** The recordings of a case with one kind of damage; undefined where that could not be done to them, or would not show. */
export function damaged({ witnesses, seed }: Case, code: DamageCode): Witness[] | undefined {
	const random = randomFrom(seed ^ 0x5bd1e995);
	const moving = witnesses.filter(({ trace }) => trace.count >= 60);
	if (moving.length === 0) return undefined;
	const changed = (change: (one: Witness) => Trace | undefined): Witness[] | undefined => {
		const [target] = moving;
		const trace = change(target);
		return trace && witnesses.map((one) => (one === target ? { ...one, trace } : one));
	};
	switch (code) {
		case 'missing-edges':
			return changed(({ trace }) => rebuilt(trace, withoutPairs(edgesOf(trace), random)));
		case 'extra-glitches':
			return changed(({ trace }) => glitched(trace, random));
		case 'cut-both-ends':
			return changed(({ trace }) => rebuilt(trace, edgesOf(trace).slice(16, -16), trace.levelAfter(16)));
		case 'inverted-probe':
			return witnesses.map((one) => ({ ...one, trace: inverted(one.trace) }));
		case 'swapped-channels': {
			const [a, b] = moving;
			if (moving.length < 2) return undefined;
			return witnesses.map((one) => (one === a ? { ...one, trace: b.trace } : one === b ? { ...one, trace: a.trace } : one));
		}
		case 'time-base-off': {
			const by = random() < 0.5 ? Rational.int(10) : Rational.ratio(1, 10);
			return witnesses.map((one) => ({ ...one, trace: stretched(one.trace, by), step: { step: one.step.step.mul(by) } }));
		}
	}
}

type Edge = [time: number, level: 0 | 1 | 2];

function edgesOf(trace: Trace): Edge[] {
	return Array.from({ length: trace.count }, (_, i): Edge => [trace.edgeTime(i), trace.levelAfter(i + 1)]);
}

function rebuilt({ meta }: Trace, edges: readonly Edge[], initial = meta.initial): Trace {
	const builder = new TraceBuilder(initial);
	for (const [time, level] of edges) builder.add(time, level);
	return builder.finish(meta);
}

/** Two neighbouring edges are lost here and there. */
function withoutPairs(edges: readonly Edge[], random: () => number): Edge[] {
	const lost = new Set<number>();
	const count = 1 + Math.floor(random() * 3);
	for (let i = 0; i < count; i++) {
		const at = 10 + Math.floor(random() * (edges.length - 20));
		lost.add(at).add(at + 1);
	}
	const runs = [...lost].sort((a, b) => a - b);
	return runs.length % 2 === 0 ? edges.filter((_, i) => !lost.has(i)) : edges.filter((_, i) => i !== runs[0] && i !== runs[0] + 1);
}

/** Pulses of a step or two in the middle of longer ones. */
function glitched(trace: Trace, random: () => number): Trace | undefined {
	const edges = edgesOf(trace);
	const count = 1 + Math.floor(random() * 3);
	const at = new Set(Array.from({ length: count }, () => 6 + Math.floor(random() * (edges.length - 12))));
	const made = edges.flatMap(([time, level], i): Edge[] => {
		const next = edges.at(i + 1);
		const room = next && i + 1 < edges.length ? next[0] - time : 0;
		if (!at.has(i) || room < 24 || level === 2) return [[time, level]];
		const middle = time + Math.floor(room / 2);
		return [
			[time, level],
			[middle, (1 - level) as 0 | 1],
			[middle + 1 + Math.floor(random() * 2), level]
		];
	});
	return made.length > edges.length ? rebuilt(trace, made) : undefined;
}

function inverted(trace: Trace): Trace {
	const turn = (level: 0 | 1 | 2) => (level === 2 ? 2 : ((1 - level) as 0 | 1));
	return rebuilt(
		trace,
		edgesOf(trace).map(([time, level]): Edge => [time, turn(level)]),
		turn(trace.meta.initial)
	);
}

function stretched(trace: Trace, by: Rational): Trace {
	const builder = new TraceBuilder(trace.meta.initial);
	for (const [time, level] of edgesOf(trace)) builder.add(time, level);
	return builder.finish({ ...trace.meta, unit: trace.meta.unit.mul(by) });
}
