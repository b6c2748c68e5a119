import type { Hertz } from '../../exact/index.js';
import { captureEdges, type SimInput } from '../../sim/index.js';
import { figureOf, linkOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import {
	addReading,
	channelFilter,
	difference,
	endOf,
	filtered,
	frameOf,
	momentsAt,
	overwritten,
	serviceOf,
	timesTo
} from '../common/listen.js';
import type { Heard, InputLines, Misread, Readings } from '../common/replay.js';
import type { CaptureAim } from './schema.js';

/** What the timer reads of its input (timers.md 8): times between captures, or edges counted for a gate. */
export function listenCapture(
	derivation: AimDerivation<CaptureAim>,
	{ input }: InputLines,
	base: Hertz,
	core: Hertz | null
): Heard | undefined {
	if (!input) return undefined;
	return derivation.use?.kind === 'free' ? captured(derivation, input, base, core) : gated(derivation, input, base);
}

/** Each reading is the time between two captures that were served. */
function captured(derivation: AimDerivation<CaptureAim>, input: SimInput, base: Hertz, core: Hertz | null): Heard {
	const { aim } = derivation;
	const { tickRate, ...frame } = frameOf(derivation, base);
	const every = linkOf(derivation, 'every') ?? 1;
	const filter = channelFilter(derivation, aim);
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
		addReading(readings, time, counts, truth, wrong);
	});
	return {
		replay: { aim: aim.id, reads: { kind: 'rate', every }, tickRate, edges: rises.length, accepted: passed, readings },
		accepted: trace,
		captures: momentsAt(times, base),
		service
	};
}

/** Edges counted for a gate, one gate after the other. */
function gated(derivation: AimDerivation<CaptureAim>, input: SimInput, base: Hertz): Heard | undefined {
	const { aim } = derivation;
	const gate = figureOf(derivation, 'gate');
	if (!gate) return undefined;
	const { tickRate, kernel, width } = frameOf(derivation, base);
	const span = gate.mul(base).toNumber();
	const end = endOf([input], base);
	const { edges, trace } = filtered(input, kernel, channelFilter(derivation, aim), end, base);
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
		addReading(readings, from + span, kept, truth, kept !== counts ? 'wrapped' : counts < truth - 1 ? 'missed' : '');
	}
	const replay = { aim: aim.id, reads: { kind: 'gated' as const, gate }, tickRate, edges: rises.length, accepted: risen.length, readings };
	return { replay, accepted: trace };
}
