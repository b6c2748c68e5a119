import type { Hertz } from '../../exact/index.js';
import { lowerBound } from '../../trace/index.js';
import { figureOf } from '../common/build.js';
import type { AimDerivation } from '../common/derivation.js';
import { addReading, channelFilter, difference, endOf, filtered, frameOf, momentsAt, serviceOf, timesTo } from '../common/listen.js';
import type { Heard, InputLines, Readings } from '../common/replay.js';
import type { WidthAim } from './schema.js';

/** What the timer reads of each pulse (timers.md 8). */
export function listenWidth(
	derivation: AimDerivation<WidthAim>,
	{ input }: InputLines,
	base: Hertz,
	core: Hertz | null
): Heard | undefined {
	if (!input) return undefined;
	const { aim } = derivation;
	const { tickRate, kernel, prescale, width: bits } = frameOf(derivation, base);
	const filter = channelFilter(derivation, aim);
	const end = endOf([input], base);
	const { edges, trace } = filtered(input, kernel, filter, end, base);
	const level = aim.level === 'high' ? 1 : 0;
	const both = derivation.timer!.channels.find(({ id }) => id === aim.channel)?.capture?.edges.includes('both');
	const service = serviceOf(aim.service, base, core);
	const window = ['accept-from', 'accept-to'].map((name) => figureOf(derivation, name)?.toNumber());
	const value = (cycle: number) => Math.floor(cycle / prescale) % 2 ** bits;
	const readings: Readings = { at: [], counts: [], truth: [], wrong: [] };
	const [begins, ends] = [timesTo(input, level), timesTo(input, level === 1 ? 0 : 1)];
	// The signal's own edge before an accepted one, which comes later by sampling and filter.
	const own = (times: readonly number[], cycle: number) => times[lowerBound(times, times.length, cycle * kernel + 1) - 1] ?? 0;
	for (let i = edges[0]?.level === level ? 0 : 1; i + 1 < edges.length; i += 2) {
		const [from, to] = [edges[i].cycle, edges[i + 1].cycle];
		const ticks = Math.floor(to / prescale) - Math.floor(from / prescale);
		const counts = difference(value(from), value(to), ticks, 2 ** bits, aim.overflows === 'counted');
		const truth = own(ends, to) - own(begins, from);
		const outside = (window[0] !== undefined && counts < window[0]) || (window[1] !== undefined && counts > window[1]);
		// Without software's part in between, the second edge may come at any time.
		const late = !both && (to - from) * kernel < service;
		const wrapped = ticks >= 2 ** bits && aim.overflows !== 'counted';
		addReading(readings, to * kernel, counts, truth, late ? 'overwritten' : wrapped ? 'wrapped' : outside ? 'outside' : '');
	}
	const replay = { aim: aim.id, reads: { kind: 'span' as const }, tickRate, edges: input.edges.length, accepted: edges.length, readings };
	const taken = edges.map(({ cycle }) => cycle * kernel);
	return { replay, accepted: trace, captures: momentsAt(taken, base), service };
}
