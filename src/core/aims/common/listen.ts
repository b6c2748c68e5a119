import { Rational, type Hertz } from '../../exact/index.js';
import type { FilterProfile } from '../../part/index.js';
import { acceptedEdges, type InputFilter, type SimInput } from '../../sim/index.js';
import { StretchedTrace } from '../../trace/index.js';
import { counterLane, levelOf, timerFor, FREE, type SystemBuilder, type Unplanned } from './build.js';
import type { AimDerivation } from './derivation.js';
import { readCycles } from './fields.js';
import type { Heard, InputLines, Misread, Readings, Replay } from './replay.js';
import { servedTimes } from './setup.js';
import type { AnyAim } from './schema.js';

/** What an aim reads of its inputs; undefined where they or its derivation say too little. */
export type Listener<A extends AnyAim> = (
	derivation: AimDerivation<A>,
	lines: InputLines,
	base: Hertz,
	core: Hertz | null
) => Heard | undefined;

/** An aim that only listens: its inputs, its counter, what it latches and reads. */
export function buildListening<A extends AnyAim>(
	builder: SystemBuilder,
	derivation: AimDerivation<A>,
	listen: Listener<A>
): Unplanned | undefined {
	const { aim, kernel, timer } = derivation;
	if (!derivation.use || !kernel || !timer) return 'not-derived';
	const { lanes, base, signals } = builder;
	// The counter runs whatever comes in.
	const sim = derivation.use.kind === 'free' ? timerFor(builder, derivation, FREE) : undefined;
	const inputs = builder.signalsOf(aim);
	signals.set(aim.id, inputs);
	const unit = base.inverse();
	for (const [role, input] of Object.entries(inputs.lines))
		lanes.push({ aim: aim.id, role, shows: { kind: 'level', trace: levelOf(input, unit) }, detail: false });
	const heard = listen(derivation, inputs.lines, base, builder.core);
	if (!heard) return Object.keys(inputs.lines).length === 0 ? 'no-input' : 'not-derived';
	builder.replays.push(heard.captures ? onlyServed(heard.replay, aim) : heard.replay);
	const { accepted, count, captures, service } = heard;
	if (accepted) lanes.push({ aim: aim.id, role: 'accepted', shows: { kind: 'level', trace: accepted }, detail: true });
	if (count) lanes.push({ aim: aim.id, role: 'count', shows: { kind: 'value', trace: count, unit: 'counts' }, detail: false });
	if (derivation.use.kind !== 'free') return undefined;
	const served = captures && service && servedTimes(aim) === 'always' ? { own: captures, interrupts: true, busy: service } : {};
	if (captures) lanes.push({ aim: aim.id, role: 'captures', shows: { kind: 'events', captures, ...served }, detail: false });
	if (sim) lanes.push(counterLane(aim.id, sim));
	return undefined;
}

/** The readings that software comes to take at all. */
function onlyServed(replay: Replay, aim: AnyAim): Replay {
	const times = servedTimes(aim);
	if (times === 'always') return replay;
	const count = times === 'once' ? 1 : 0;
	const { at, counts, truth, wrong, over, came } = replay.readings;
	const readings: Readings = {
		at: at.slice(0, count),
		counts: counts.slice(0, count),
		truth: truth.slice(0, count),
		wrong: wrong.slice(0, count),
		...(over && { over: over.slice(0, count) }),
		...(came && { came: came.slice(0, count) })
	};
	return { ...replay, readings };
}

/** Beyond the last edge nothing comes; a second more lets filters settle. */
export function endOf(inputs: readonly SimInput[], base: Hertz): number {
	return Math.max(0, ...inputs.map(({ edges }) => (edges.length > 0 ? edges[edges.length - 1] : 0))) + Math.round(base.toNumber());
}

/** What the timer's settings come to in base cycles. */
export function frameOf({ use, kernel, timer }: AimDerivation, base: Hertz) {
	const cycles = Number(base.div(kernel!).num);
	return { kernel: cycles, prescale: use!.prescale, width: timer!.width, tickRate: kernel!.div(Rational.int(use!.prescale)) };
}

export function filterOf(filters: readonly FilterProfile[] | undefined, chosen: string): InputFilter {
	const { samples, divide } = filters?.[Number(chosen)] ?? { samples: 1, divide: 1 };
	return { samples, divide };
}

export function channelFilter({ timer }: AimDerivation, { channel, filter }: { channel: string; filter: string }): InputFilter {
	return filterOf(timer!.channels.find(({ id }) => id === channel)?.capture?.filters, filter);
}

export function serviceOf(text: string, base: Hertz, core: Hertz | null): number {
	const read = readCycles(text, core);
	return read.ok && core ? Number(Rational.int(read.value).mul(base).div(core).roundHalfUp()) : 0;
}

/** The levels after the filter, and the times of them, in base cycles. */
export function filtered(input: SimInput, kernel: number, filter: InputFilter, end: number, base: Hertz) {
	const edges = acceptedEdges(input, kernel, filter, Math.ceil(end / kernel));
	const times = Float64Array.from(edges, ({ cycle }) => cycle * kernel);
	return { edges, trace: new StretchedTrace(base.inverse(), input.initial, times, []) };
}

/** Which captures software comes to too late: while one is served the next waits, and a second one overwrites it. */
export function overwritten(times: readonly number[], service: number): boolean[] {
	let free = -Infinity;
	return times.map((time, i) => {
		const begins = Math.max(time, free);
		if (i + 1 < times.length && times[i + 1] <= begins) return true;
		free = begins + service;
		return false;
	});
}

/** Times at which a line takes a level. */
export function timesTo({ initial, edges }: SimInput, level: 0 | 1): number[] {
	const first = initial === level ? 1 : 0;
	return Array.from({ length: Math.max(0, Math.ceil((edges.length - first) / 2)) }, (_, i) => edges[first + 2 * i]);
}

/** Differences of captured values: with overflows counted they are whole, without them modulo 2^w. */
export function difference(from: number, to: number, ticks: number, full: number, counted: boolean): number {
	if (!counted) return (((to - from) % full) + full) % full;
	return to - from + full * Math.round((ticks - (to - from)) / full);
}

/** Moments as edges, in base cycles. */
export function momentsAt(times: readonly number[], base: Hertz): StretchedTrace {
	return new StretchedTrace(base.inverse(), 0, Float64Array.from(times), []);
}

export function addReading(readings: Readings, at: number, counts: number, truth: number, wrong: Misread | ''): void {
	readings.at.push(at);
	readings.counts.push(counts);
	readings.truth.push(truth);
	readings.wrong.push(wrong);
}
