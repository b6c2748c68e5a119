import { Rational, type Hertz } from '../exact/index.js';
import {
	contactTimes,
	echoTimes,
	inputOf,
	MOST_STIMULUS_EDGES,
	quadratureInputs,
	squareTimes,
	sweptTimes,
	type Leg,
	type SimInput
} from '../sim/index.js';
import type { LevelSource } from '../trace/index.js';
import {
	kindOf,
	readRate,
	readShare,
	readSpan,
	readTime,
	readSpeed,
	readWhole,
	type AnyAim,
	type Field,
	type InputSignals,
	type Stimulus,
	type StimulusKind
} from '../aims/index.js';

/** A recorded line of a shelf, by recording and name; undefined: not loaded. */
export type RecordedLines = (recording: string, line: string) => (LevelSource & { readonly count: number }) | undefined;

/** What an aim may be given at its inputs; none: it has no inputs. */
export function stimulusKinds(aim: AnyAim): readonly StimulusKind[] {
	return kindOf(aim).inputs?.offers ?? [];
}

/**
 * A fresh stimulus of a kind that fits the aim: its whole range, its greatest speed, or a contact that bounces as the aim says; long
 * enough to hold a few periods of the slowest of it, as far as the edges go.
 */
export function freshStimulus(aim: AnyAim, kind: StimulusKind = stimulusKinds(aim)[0]): Stimulus {
	const { rate = '50 Hz', from, to, bounce = '0', speed = '1 Hz' } = kindOf(aim).inputs?.suggests(aim) ?? {};
	switch (kind) {
		case 'square':
			return { kind, rate, duty: '50 %', jitter: '0', over: lasting(2, 10 / number(rate), MOST_TURNS / number(rate)) };
		case 'sweep':
			return sweepOver(from ?? '10 Hz', to ?? '100 Hz');
		case 'contact':
			return { kind, first: '1 ms', every: '', times: '1', held: '50 ms', bounce, bounces: '6' };
		case 'quadrature': {
			const perTurn = kindOf(aim).inputs?.cyclesPerTurn?.(aim);
			const cycles = number(speed) * (perTurn?.ok ? perTurn.value : 1);
			const [half, whole] = [0.5, 1].map((seconds) => lasting(seconds, 4 / cycles, MOST_TURNS / 4 / cycles));
			const legs = [
				{ id: 'leg-1', speed, over: half },
				{ id: 'leg-2', speed, over: half },
				{ id: 'leg-3', speed: `-${speed.trim()}`, over: whole }
			];
			return { kind, legs, jitter: '0' };
		}
		case 'echo':
			return { kind, every: '', from: from ?? '1 ms', to: to ?? '10 ms', over: lasting(2, 20 * seconds(to ?? '10 ms'), Infinity) };
		case 'recorded':
			return { kind, recording: '', line: '', second: '', log: '' };
	}
}

/** Turns that a fresh signal may have: two edges each. */
const MOST_TURNS = MOST_STIMULUS_EDGES / 2 - 1000;

/** A sweep over a range, by ratios: each decade as long as the other. */
function sweepOver(from: string, to: string): Extract<Stimulus, { kind: 'sweep' }> {
	const [low, high] = [number(from), number(to)];
	const growth = Math.abs(Math.log(high / low));
	// Mean rate of such a sweep.
	const mean = growth > 1e-6 ? Math.abs(high - low) / growth : low;
	return { kind: 'sweep', from, to, duty: '50 %', over: lasting(10, 10 / Math.min(low, high), MOST_TURNS / mean), course: 'ratio' };
}

/** The usual time, longer where that holds too little, but never above the most; as typed. What cannot be read leaves the usual one. */
function lasting(usual: number, least: number, most: number): string {
	const time = Math.min(Math.max(usual, least), most);
	return `${Number((Number.isFinite(time) && time > 0 ? time : usual).toPrecision(3))} s`.replace(
		/^(0\.\d+) s$/,
		(_, part: string) => `${Number(part) * 1000} ms`
	);
}

function number(rate: string): number {
	const read = readSpeed(rate);
	return read.ok ? Math.abs(read.value.toNumber()) : NaN;
}

function seconds(time: string): number {
	const read = readSpan(time);
	return read.ok ? read.value.toNumber() : NaN;
}

/** Makes the signals of a stimulus on a base clock; what cannot be read leaves its line still. */
export function inputSignals(aim: AnyAim, stimulus: Stimulus, base: Hertz, recorded: RecordedLines): InputSignals {
	return make(aim, stimulus, base, recorded, true);
}

/** The fields of a stimulus that make no sense, by name. */
export function stimulusProblems(aim: AnyAim, stimulus: Stimulus): InputSignals['problems'] {
	return make(aim, stimulus, Rational.one, () => undefined, false).problems;
}

/** The signals of a stimulus while they are made. `edges`: false only reads the fields. */
class SignalMaker {
	readonly made: InputSignals;
	private readonly scale: number;

	constructor(
		readonly aim: AnyAim,
		stimulus: Stimulus,
		readonly base: Hertz,
		readonly edges: boolean
	) {
		this.made = { stimulus, lines: {}, problems: {}, cut: false };
		this.scale = base.toNumber();
	}

	take<T>(name: string, field: Field<T>): T | undefined {
		if (field.ok) return field.value;
		this.made.problems[name] = field.problem;
		return undefined;
	}

	/** A typed time in base cycles; `least` "time": above zero. */
	cycles(name: string, text: string, least: 'span' | 'time' = 'span'): number | undefined {
		return this.take(name, least === 'time' ? readTime(text) : readSpan(text))
			?.mul(this.base)
			.toNumber();
	}

	/** A rate a base cycle. */
	perCycle(rate: Hertz): number {
		return rate.toNumber() / this.scale;
	}

	/** Gives the one input its edges. */
	set(times: Iterable<number>, jitter?: number): void {
		if (!this.edges) return;
		const { made, aim } = this;
		made.lines.input = inputOf(kindOf(aim).inputs?.rest(aim) ?? 0, times, jitter);
		made.cut = made.lines.input.edges.length === MOST_STIMULUS_EDGES;
	}
}

type Of<K extends StimulusKind> = Extract<Stimulus, { kind: K }>;

function square(maker: SignalMaker, stimulus: Of<'square'>): void {
	const [rate, duty] = [maker.take('rate', readRate(stimulus.rate)), maker.take('duty', readShare(stimulus.duty, 0))];
	const [jitter, over] = [maker.cycles('jitter', stimulus.jitter), maker.cycles('over', stimulus.over, 'time')];
	if (!rate || !duty || jitter === undefined || over === undefined) return;
	const period = maker.base.div(rate).toNumber();
	maker.set(squareTimes(period, period * duty.toNumber(), over), jitter);
}

function sweep(maker: SignalMaker, stimulus: Of<'sweep'>): void {
	const [from, to] = [maker.take('from', readRate(stimulus.from)), maker.take('to', readRate(stimulus.to))];
	const [duty, over] = [maker.take('duty', readShare(stimulus.duty, 0)), maker.cycles('over', stimulus.over, 'time')];
	if (from && to && duty && over !== undefined)
		maker.set(sweptTimes(maker.perCycle(from), maker.perCycle(to), duty.toNumber(), over, stimulus.course));
}

function contact(maker: SignalMaker, stimulus: Of<'contact'>): void {
	const [first, held] = [maker.cycles('first', stimulus.first), maker.cycles('held', stimulus.held, 'time')];
	const once = stimulus.every.trim() === '';
	const [every, bounce] = [once ? 0 : maker.cycles('every', stimulus.every, 'time'), maker.cycles('bounce', stimulus.bounce)];
	const [times, bounces] = [maker.take('times', readWhole(stimulus.times, 1)), maker.take('bounces', readWhole(stimulus.bounces, 0))];
	if (first === undefined || held === undefined || every === undefined || bounce === undefined) return;
	if (times === undefined || bounces === undefined) return;
	const count = once ? 1 : Math.min(times, MOST_STIMULUS_EDGES);
	maker.set(contactTimes(first, every, count, held, { bounce, bounces: Math.min(bounces, 1000) }));
}

function echo(maker: SignalMaker, stimulus: Of<'echo'>): void {
	const [from, to] = [maker.cycles('from', stimulus.from, 'time'), maker.cycles('to', stimulus.to, 'time')];
	const over = maker.cycles('over', stimulus.over, 'time');
	if (from === undefined || to === undefined || over === undefined) return;
	const every = stimulus.every.trim() === '' ? 2 * Math.max(from, to) : maker.cycles('every', stimulus.every, 'time');
	if (every !== undefined) maker.set(echoTimes(every, from, to, over));
}

function quadrature(maker: SignalMaker, stimulus: Of<'quadrature'>): void {
	const jitter = maker.cycles('jitter', stimulus.jitter);
	const legs = readLegs(maker, stimulus);
	if (jitter === undefined || !legs || !maker.edges) return;
	const { a, b } = quadratureInputs(legs, jitter);
	Object.assign(maker.made.lines, { a, b });
	maker.made.cut = a.edges.length === MOST_STIMULUS_EDGES || b.edges.length === MOST_STIMULUS_EDGES;
}

function recordedLine({ made, aim, base }: SignalMaker, stimulus: Of<'recorded'>, recorded: RecordedLines): void {
	const roles = kindOf(aim).inputs?.lines ?? [];
	const names = [stimulus.line, stimulus.second];
	const sources = roles.map((_, i) => recorded(stimulus.recording, names[i]));
	const begins = replayStart(sources.flatMap((source) => source ?? []));
	roles.forEach((role, i) => {
		const source = sources[i];
		if (!source) made.missing = names[i];
		else {
			made.lines[role] = replayed(source, base, begins);
			made.cut ||= source.count > MOST_STIMULUS_EDGES;
		}
	});
}

const MAKERS: { [K in StimulusKind]: (maker: SignalMaker, of: Of<K>, recorded: RecordedLines) => void } = {
	square,
	sweep,
	contact,
	echo,
	quadrature,
	recorded: recordedLine
};

function make(aim: AnyAim, stimulus: Stimulus, base: Hertz, recorded: RecordedLines, edges: boolean): InputSignals {
	const maker = new SignalMaker(aim, stimulus, base, edges);
	(MAKERS[stimulus.kind] as (maker: SignalMaker, of: Stimulus, recorded: RecordedLines) => void)(maker, stimulus, recorded);
	return maker.made;
}

function readLegs(maker: SignalMaker, { legs }: Of<'quadrature'>): Leg[] | undefined {
	const cycles = kindOf(maker.aim).inputs?.cyclesPerTurn?.(maker.aim);
	const perTurn = cycles ? maker.take('cycles', cycles) : 1;
	const read = legs.map(({ id, speed, over }) => ({
		rate: maker.take(`${id}.speed`, readSpeed(speed)),
		time: maker.take(`${id}.over`, readTime(over))
	}));
	const good = read.every((leg): leg is { rate: Rational; time: Rational } => leg.rate !== undefined && leg.time !== undefined);
	if (!good || perTurn === undefined) return undefined;
	return read.map(({ rate, time }) => ({ speed: maker.perCycle(rate) * perTurn, over: time.mul(maker.base).toNumber() }));
}

/** A recorded line with all its edges. */
type Replayable = LevelSource & { readonly count: number };

/** The recorded time, in seconds, that becomes plan time 0: its own 0, or just before the first edge of any of the lines where that comes earlier. */
export function replayStart(lines: readonly Replayable[]): number {
	return Math.min(0, ...lines.flatMap((line) => (line.count > 0 ? [(line.edgeTime(0) - 1) * line.unit.toNumber()] : [])));
}

/** A recorded line from a moment on, in seconds; an unknown level keeps the one before. */
function replayed(source: Replayable, base: Hertz, begins: number): SimInput {
	const cycle = source.unit.mul(base).toNumber();
	const count = Math.min(source.count, MOST_STIMULUS_EDGES);
	const start = begins / source.unit.toNumber();
	let level = source.levelAfter(0) === 1 ? 1 : 0;
	const initial = level as 0 | 1;
	const times: number[] = [];
	for (let i = 0; i < count; i++) {
		const next = source.levelAfter(i + 1);
		if (next === 2 || next === level) continue;
		level = next;
		times.push((source.edgeTime(i) - start) * cycle);
	}
	return inputOf(initial, times);
}
