import { Rational, type Hertz } from '../../exact/index.js';
import type { FilterProfile } from '../../part/index.js';
import { acceptedEdges, captureEdges, countQuadrature, type InputFilter, type SimInput } from '../../sim/index.js';
import { lowerBound, StretchedTrace, ValueTrace } from '../../trace/index.js';
import { readCycles } from '../fields.js';
import type { CaptureAim, EncoderAim, JobDerivation, WidthAim } from '../jobs/index.js';

/** Why a reading is not what came: the interval went round the counter, an edge was overwritten before it was served or not accepted, or a width lies outside its window. */
export type Misread = 'wrapped' | 'overwritten' | 'missed' | 'outside';

/** What an aim that listens reads, one column each; times and spans in base cycles. */
export interface Readings {
	at: number[];
	/** Ticks, edges or counts that were read. */
	counts: number[];
	/** What really came: the span in base cycles, or the counts. */
	truth: number[];
	wrong: (Misread | '')[];
}

/** How to read `counts` and `truth`: as a rate, a width, or a position. */
export type ReadingKind = { kind: 'rate'; every: number } | { kind: 'width' } | { kind: 'position' } | { kind: 'gated'; gate: Rational };

export interface Replay {
	aim: string;
	reads: ReadingKind;
	/** Ticks a second. */
	tickRate: Hertz;
	/** Edges that came, and that the filter let through. */
	edges: number;
	accepted: number;
	readings: Readings;
}

export interface Heard {
	replay: Replay;
	accepted?: StretchedTrace;
	/** Each edge is a capture. */
	captures?: StretchedTrace;
	/** Base cycles that serving a capture takes. */
	service?: number;
	count?: ValueTrace;
}

type Lines = Partial<Record<'input' | 'a' | 'b', SimInput>>;

/** Beyond the last edge nothing comes; a second more lets filters settle. */
function endOf(inputs: readonly SimInput[], base: Hertz): number {
	return Math.max(0, ...inputs.map(({ edges }) => (edges.length > 0 ? edges[edges.length - 1] : 0))) + Math.round(base.toNumber());
}

/** What an aim reads of its inputs; undefined where they or its derivation say too little. */
export function listen(made: JobDerivation, lines: Lines, base: Hertz, core: Hertz | null): Heard | undefined {
	const { aim } = made;
	if (aim.kind === 'encoder') return lines.a && lines.b && position(made, aim, lines.a, lines.b, base);
	if (!lines.input) return undefined;
	if (aim.kind === 'width') return width(made, aim, lines.input, base, core);
	if (aim.kind !== 'capture') return undefined;
	return made.use?.kind === 'free' ? captured(made, aim, lines.input, base, core) : gated(made, aim, lines.input, base);
}

/** What the timer's settings come to in base cycles. */
function frameOf({ use, kernel, timer }: JobDerivation, base: Hertz) {
	const cycles = Number(base.div(kernel!).num);
	return { kernel: cycles, prescale: use!.prescale, width: timer!.width, tickRate: kernel!.div(Rational.int(use!.prescale)) };
}

function filterOf(filters: readonly FilterProfile[] | undefined, chosen: string): InputFilter {
	const { samples, divide } = filters?.[Number(chosen)] ?? { samples: 1, divide: 1 };
	return { samples, divide };
}

function channelFilter({ timer }: JobDerivation, { channel, filter }: CaptureAim | WidthAim): InputFilter {
	return filterOf(timer!.channels.find(({ id }) => id === channel)?.capture?.filters, filter);
}

function serviceOf(text: string, base: Hertz, core: Hertz | null): number {
	const read = readCycles(text, core);
	return read.ok && core ? Number(Rational.int(read.value).mul(base).div(core).roundHalfUp()) : 0;
}

/** The levels after the filter, and the times of them, in base cycles. */
function filtered(input: SimInput, kernel: number, filter: InputFilter, end: number, base: Hertz) {
	const edges = acceptedEdges(input, kernel, filter, Math.ceil(end / kernel));
	const times = Float64Array.from(edges, ({ cycle }) => cycle * kernel);
	return { edges, trace: new StretchedTrace(base.inverse(), input.initial, times, []) };
}

/** Which captures software comes to too late: while one is served the next waits, and a second one overwrites it. */
function overwritten(times: readonly number[], service: number): boolean[] {
	let free = -Infinity;
	return times.map((time, i) => {
		const begins = Math.max(time, free);
		if (i + 1 < times.length && times[i + 1] <= begins) return true;
		free = begins + service;
		return false;
	});
}

/** Times at which a line takes a level. */
function timesTo({ initial, edges }: SimInput, level: 0 | 1): number[] {
	const first = initial === level ? 1 : 0;
	return Array.from({ length: Math.max(0, Math.ceil((edges.length - first) / 2)) }, (_, i) => edges[first + 2 * i]);
}

/** Differences of captured values: with overflows counted they are whole, without them modulo 2^w. */
function difference(from: number, to: number, ticks: number, full: number, counted: boolean): number {
	if (!counted) return (((to - from) % full) + full) % full;
	return to - from + full * Math.round((ticks - (to - from)) / full);
}

function captured(made: JobDerivation, aim: CaptureAim, input: SimInput, base: Hertz, core: Hertz | null): Heard {
	const { tickRate, ...frame } = frameOf(made, base);
	const every = made.strip.find(({ name }) => name === 'every')?.value ?? 1;
	const filter = channelFilter(made, aim);
	const end = endOf([input], base);
	const all = captureEdges(input, { ...frame, edge: 'rise', every, filter }, end);
	const service = serviceOf(aim.service, base, core);
	const times = all.map(([time]) => time);
	const lost = overwritten(times, service);
	const served = all.flatMap(([time, value], k) => (lost[k] ? [] : [{ time, value, k }]));
	const rises = timesTo(input, 1);
	const { edges, trace } = filtered(input, frame.kernel, filter, end, base);
	const passed = edges.filter(({ level }) => level === 1).length;
	const full = 2 ** frame.width;
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	served.forEach(({ time, value, k }, i) => {
		if (i === 0) return;
		const { time: before, value: from, k: last } = served[i - 1];
		const ticks = Math.round((time - before) / (frame.kernel * frame.prescale));
		const counts = difference(from, value, ticks, full, aim.overflows === 'counted');
		// What came: the same so many edges of the input itself, if the filter let every one through.
		const whole = passed === rises.length;
		const [first, end] = [rises[k * every - 1], rises[(k + 1) * every - 1]];
		const truth = whole && first !== undefined && end !== undefined ? end - first : time - before;
		const skipped = last !== k - 1;
		const wrong: Misread | '' = skipped ? 'overwritten' : ticks >= full && aim.overflows !== 'counted' ? 'wrapped' : whole ? '' : 'missed';
		push(readings, time, counts, truth, wrong);
	});
	return {
		replay: { aim: aim.id, reads: { kind: 'rate', every }, tickRate, edges: rises.length, accepted: passed, readings },
		accepted: trace,
		captures: marks(times, base),
		service
	};
}

/** Edges counted for a gate, one gate after the other. */
function gated(made: JobDerivation, aim: CaptureAim, input: SimInput, base: Hertz): Heard | undefined {
	const gate = made.figures.find(({ name }) => name === 'gate')?.value;
	if (!gate) return undefined;
	const { tickRate, kernel, width } = frameOf(made, base);
	const span = gate.mul(base).toNumber();
	const end = endOf([input], base);
	const { edges, trace } = filtered(input, kernel, channelFilter(made, aim), end, base);
	const risen = edges.filter(({ level }) => level === 1).map(({ cycle }) => cycle * kernel);
	const rises = timesTo(input, 1);
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	const last = rises.length > 0 ? rises[rises.length - 1] : 0;
	let [i, j] = [0, 0];
	for (let from = 0; from + span <= last; from += span) {
		let [counts, truth] = [0, 0];
		for (; i < risen.length && risen[i] < from + span; i++) counts++;
		for (; j < rises.length && rises[j] < from + span; j++) truth++;
		const kept = counts % 2 ** width;
		push(readings, from + span, kept, truth, kept !== counts ? 'wrapped' : counts < truth - 1 ? 'missed' : '');
	}
	const replay = { aim: aim.id, reads: { kind: 'gated' as const, gate }, tickRate, edges: rises.length, accepted: risen.length, readings };
	return { replay, accepted: trace };
}

function width(made: JobDerivation, aim: WidthAim, input: SimInput, base: Hertz, core: Hertz | null): Heard {
	const { tickRate, kernel, prescale, width: bits } = frameOf(made, base);
	const filter = channelFilter(made, aim);
	const end = endOf([input], base);
	const { edges, trace } = filtered(input, kernel, filter, end, base);
	const level = aim.level === 'high' ? 1 : 0;
	const both = made.timer!.channels.find(({ id }) => id === aim.channel)?.capture?.edges.includes('both');
	const service = serviceOf(aim.service, base, core);
	const window = ['accept-from', 'accept-to'].map((name) => made.figures.find((one) => one.name === name)?.value.toNumber());
	const value = (cycle: number) => Math.floor(cycle / prescale) % 2 ** bits;
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	const [begins, ends] = [timesTo(input, level), timesTo(input, level === 1 ? 0 : 1)];
	const firstEnd = input.initial === level ? 1 : 0;
	for (let i = edges[0]?.level === level ? 0 : 1; i + 1 < edges.length; i += 2) {
		const [from, to] = [edges[i].cycle, edges[i + 1].cycle];
		const ticks = Math.floor(to / prescale) - Math.floor(from / prescale);
		const counts = difference(value(from), value(to), ticks, 2 ** bits, aim.overflows === 'counted');
		// The last one that began no later.
		const own = lowerBound(begins, begins.length, from * kernel + 1) - 1;
		const truth = own >= 0 && ends[own + firstEnd] !== undefined ? ends[own + firstEnd] - begins[own] : (to - from) * kernel;
		const outside = (window[0] !== undefined && counts < window[0]) || (window[1] !== undefined && counts > window[1]);
		// Without software's part in between, the second edge may come at any time.
		const late = !both && (to - from) * kernel < service;
		const wrapped = ticks >= 2 ** bits && aim.overflows !== 'counted';
		push(readings, to * kernel, counts, truth, late ? 'overwritten' : wrapped ? 'wrapped' : outside ? 'outside' : '');
	}
	const replay = { aim: aim.id, reads: { kind: 'width' as const }, tickRate, edges: input.edges.length, accepted: edges.length, readings };
	const taken = edges.map(({ cycle }) => cycle * kernel);
	return { replay, accepted: trace, captures: marks(taken, base), service };
}

function position(made: JobDerivation, aim: EncoderAim, a: SimInput, b: SimInput, base: Hertz): Heard | undefined {
	const reload = made.strip.find(({ name }) => name === 'reload')?.value;
	if (reload === undefined) return undefined;
	const { kernel, tickRate } = frameOf(made, base);
	const start = made.figures.find(({ name }) => name === 'start')?.value.toNumber() ?? 0;
	const times = Number(aim.times) as 1 | 2 | 4;
	const range = aim.ends;
	const filter = filterOf(made.timer!.encoder?.filters, aim.filter);
	const end = endOf([a, b], base);
	const read = countQuadrature(a, b, { kernel, times, reload, range, start, filter }, end);
	// The shaft's own place: every edge at its time, sampled without a filter on the base clock.
	const real = countQuadrature(a, b, { kernel: 1, times, reload, range, start, filter: { samples: 1, divide: 1 } }, end);
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	// Within the filter's window both may differ on the way; what stays is a miscount.
	const settle = (filter.samples * filter.divide + 1) * kernel;
	let j = 0;
	let off = 0;
	read.counts.forEach(([time, count]) => {
		while (j < real.counts.length && real.counts[j][0] <= time) j++;
		const truth = j > 0 ? real.counts[j - 1][1] : start;
		const near = j > 0 && time - real.counts[j - 1][0] <= settle;
		const now = circular(count - truth, reload + 1, range === 'wrap');
		const moved = now !== off && !(near && Math.abs(now - off) <= 1);
		if (moved) {
			push(readings, time, count, truth, 'missed');
			off = now;
		}
	});
	push(readings, end, read.final, real.final, circular(read.final - real.final, reload + 1, range === 'wrap') === 0 ? '' : 'missed');
	const unit = base.inverse();
	const replay: Replay = {
		aim: aim.id,
		reads: { kind: 'position' },
		tickRate,
		edges: a.edges.length + b.edges.length,
		accepted:
			acceptedEdges(a, kernel, filter, Math.ceil(end / kernel)).length + acceptedEdges(b, kernel, filter, Math.ceil(end / kernel)).length,
		readings
	};
	return { replay, count: staircase([[0, start], ...read.counts], unit) };
}

/** How far two counts are apart, the shorter way round where the range wraps. */
function circular(by: number, full: number, wraps: boolean): number {
	if (!wraps) return by;
	const rest = ((by % full) + full) % full;
	return rest > full / 2 ? rest - full : rest;
}

function staircase(points: readonly (readonly [number, number])[], unit: Rational): ValueTrace {
	const kinds = points.map(([, value]) => ({ value, step: 0, lead: 0 }));
	const times = Float64Array.from(points, ([time]) => time);
	return new ValueTrace(unit, {
		points: { initial: 0, times, repeats: [] },
		kinds,
		kindOf: Uint32Array.from(points.keys())
	});
}

function marks(times: readonly number[], base: Hertz): StretchedTrace {
	return new StretchedTrace(base.inverse(), 0, Float64Array.from(times), []);
}

function push(readings: Readings, at: number, counts: number, truth: number, wrong: Misread | ''): void {
	readings.at.push(at);
	readings.counts.push(counts);
	readings.truth.push(truth);
	readings.wrong.push(wrong);
}
