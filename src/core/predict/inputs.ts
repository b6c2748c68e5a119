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

/** A fresh stimulus of a kind that fits the aim: its whole range, its greatest speed, or a contact that bounces as the aim says. */
export function freshStimulus(aim: AnyAim, kind: StimulusKind = stimulusKinds(aim)[0]): Stimulus {
	const { rate = '50 Hz', from, to, bounce = '0', speed = '1 Hz' } = kindOf(aim).inputs?.suggests(aim) ?? {};
	switch (kind) {
		case 'square':
			return { kind, rate, duty: '50 %', jitter: '0', over: '2 s' };
		case 'sweep':
			return { kind, from: from ?? '10 Hz', to: to ?? '100 Hz', duty: '50 %', over: '10 s' };
		case 'contact':
			return { kind, first: '1 ms', every: '', times: '1', held: '50 ms', bounce, bounces: '6' };
		case 'quadrature': {
			const legs = [
				{ id: 'leg-1', speed, over: '500 ms' },
				{ id: 'leg-2', speed, over: '500 ms' },
				{ id: 'leg-3', speed: `-${speed.trim()}`, over: '1 s' }
			];
			return { kind, legs, jitter: '0' };
		}
		case 'echo':
			return { kind, every: '', from: from ?? '1 ms', to: to ?? '10 ms', over: '2 s' };
		case 'recorded':
			return { kind, recording: '', line: '', second: '' };
	}
}

/** Makes the signals of a stimulus on a base clock; what cannot be read leaves its line still. */
export function makeInputs(aim: AnyAim, stimulus: Stimulus, base: Hertz, recorded: RecordedLines): InputSignals {
	return make(aim, stimulus, base, recorded, true);
}

/** The fields of a stimulus that make no sense, by name. */
export function stimulusProblems(aim: AnyAim, stimulus: Stimulus): InputSignals['problems'] {
	return make(aim, stimulus, Rational.one, () => undefined, false).problems;
}

/** `edges`: false only reads the fields. */
function make(aim: AnyAim, stimulus: Stimulus, base: Hertz, recorded: RecordedLines, edges: boolean): InputSignals {
	const made: InputSignals = { stimulus, lines: {}, problems: {}, cut: false };
	const take = <T>(name: string, field: Field<T>): T | undefined => {
		if (field.ok) return field.value;
		made.problems[name] = field.problem;
		return undefined;
	};
	const scale = base.toNumber();
	const cycles = (name: string, text: string, least: 'span' | 'time' = 'span') =>
		take(name, least === 'time' ? readTime(text) : readSpan(text))
			?.mul(base)
			.toNumber();
	const set = (times: Iterable<number>, jitter?: number) => {
		if (!edges) return;
		made.lines.input = inputOf(kindOf(aim).inputs?.rest(aim) ?? 0, times, jitter);
		made.cut = made.lines.input.edges.length === MOST_STIMULUS_EDGES;
	};
	switch (stimulus.kind) {
		case 'square': {
			const [rate, duty] = [take('rate', readRate(stimulus.rate)), take('duty', readShare(stimulus.duty, 0))];
			const [jitter, over] = [cycles('jitter', stimulus.jitter), cycles('over', stimulus.over, 'time')];
			if (!rate || !duty || jitter === undefined || over === undefined) break;
			const period = base.div(rate).toNumber();
			set(squareTimes(period, period * duty.toNumber(), over), jitter);
			break;
		}
		case 'sweep': {
			const [from, to] = [take('from', readRate(stimulus.from)), take('to', readRate(stimulus.to))];
			const [duty, over] = [take('duty', readShare(stimulus.duty, 0)), cycles('over', stimulus.over, 'time')];
			if (!from || !to || !duty || over === undefined) break;
			set(sweptTimes(from.toNumber() / scale, to.toNumber() / scale, duty.toNumber(), over));
			break;
		}
		case 'contact': {
			const [first, held] = [cycles('first', stimulus.first), cycles('held', stimulus.held, 'time')];
			const once = stimulus.every.trim() === '';
			const [every, bounce] = [once ? 0 : cycles('every', stimulus.every, 'time'), cycles('bounce', stimulus.bounce)];
			const [times, bounces] = [take('times', readWhole(stimulus.times, 1)), take('bounces', readWhole(stimulus.bounces, 0))];
			if (first === undefined || held === undefined || every === undefined || bounce === undefined) break;
			if (times === undefined || bounces === undefined) break;
			set(contactTimes(first, every, once ? 1 : Math.min(times, MOST_STIMULUS_EDGES), held, { bounce, bounces: Math.min(bounces, 1000) }));
			break;
		}
		case 'echo': {
			const [from, to] = [cycles('from', stimulus.from, 'time'), cycles('to', stimulus.to, 'time')];
			const over = cycles('over', stimulus.over, 'time');
			if (from === undefined || to === undefined || over === undefined) break;
			const every = stimulus.every.trim() === '' ? 2 * Math.max(from, to) : cycles('every', stimulus.every, 'time');
			if (every !== undefined) set(echoTimes(every, from, to, over));
			break;
		}
		case 'quadrature': {
			const jitter = cycles('jitter', stimulus.jitter);
			const legs = readLegs(stimulus, aim, scale, take);
			if (jitter === undefined || !legs || !edges) break;
			const { a, b } = quadratureInputs(legs, jitter);
			Object.assign(made.lines, { a, b });
			made.cut = a.edges.length === MOST_STIMULUS_EDGES || b.edges.length === MOST_STIMULUS_EDGES;
			break;
		}
		case 'recorded': {
			const roles = kindOf(aim).inputs?.lines ?? [];
			const names = roles.map((role, i) => [role, i === 0 ? stimulus.line : stimulus.second] as const);
			for (const [role, line] of names) {
				const source = recorded(stimulus.recording, line);
				if (!source) made.missing = line;
				else {
					made.lines[role] = replayed(source, base);
					made.cut ||= source.count > MOST_STIMULUS_EDGES;
				}
			}
		}
	}
	return made;
}

function readLegs(
	{ legs }: Extract<Stimulus, { kind: 'quadrature' }>,
	aim: AnyAim,
	scale: number,
	take: <T>(name: string, field: Field<T>) => T | undefined
): Leg[] | undefined {
	const cycles = kindOf(aim).inputs?.cyclesPerTurn?.(aim);
	const perTurn = cycles ? take('cycles', cycles) : 1;
	const read = legs.map(({ id, speed, over }) => {
		return { rate: take(`${id}.speed`, readSpeed(speed)), time: take(`${id}.over`, readTime(over)) };
	});
	const good = read.every((leg): leg is { rate: Rational; time: Rational } => leg.rate !== undefined && leg.time !== undefined);
	if (!good || perTurn === undefined) return undefined;
	return read.map(({ rate, time }) => ({ speed: (rate.toNumber() * perTurn) / scale, over: time.toNumber() * scale }));
}

/** A recorded line from its beginning on; an unknown level keeps the one before. */
function replayed(source: LevelSource & { readonly count: number }, base: Hertz): SimInput {
	const cycle = source.unit.mul(base).toNumber();
	const count = Math.min(source.count, MOST_STIMULUS_EDGES);
	const start = count > 0 ? Math.min(0, source.edgeTime(0) - 1) : 0;
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
