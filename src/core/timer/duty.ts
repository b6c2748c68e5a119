import { Rational, type Ticks } from '../exact/index.js';
import { largest, periodTicks, type Counting } from './period.js';

/**
 * Compare value against the ticks in which an output is high, for every output rule (timers.md 5, 10). `below` and `above` are
 * the level model; `enter` and `leave` the action model with high at zero (up) or top (down) and low at the match; `turns`, in
 * up-down counting, low at the match on the way up and high at the one on the way down, both on entering. `entered`, `left`
 * and `turned` are their opposites: low where those are high.
 */
export type OutputRule = 'below' | 'above' | 'enter' | 'entered' | 'leave' | 'left' | 'turns' | 'turned';

/** Rules that are high where another one is low. */
const OPPOSITE: Partial<Record<OutputRule, OutputRule>> = { above: 'below', entered: 'enter', left: 'leave', turned: 'turns' };

/** The rule of which a rule is the opposite; itself where it is none. */
export function plainRule(rule: OutputRule): OutputRule {
	return OPPOSITE[rule] ?? rule;
}

export interface DutyChoice {
	compare: number;
	activeTicks: Ticks;
	/** activeTicks / T. */
	duty: Rational;
}

/** Compares from..to (both included), whose active ticks run from `active` by `slope` a step. */
interface Segment {
	from: number;
	to: number;
	active: number;
	slope: number;
}

/**
 * The compare whose active ticks lie nearest to duty x T, a tie taking more ticks, then the smallest such compare.
 * null where the reload blocks the counter. Throws RangeError for a reload that does not fit.
 */
export function nearestDuty(counting: Counting, reload: number, output: OutputRule, duty: Rational): DutyChoice | null {
	const ticks = periodTicks(counting, reload);
	if (ticks === null) return null;
	return nearestActive(counting, reload, output, duty.mul(Rational.int(ticks)));
}

/** As nearestDuty, for a wished number of active ticks, which may be a fraction. */
export function nearestActive(counting: Counting, reload: number, output: OutputRule, wanted: Rational): DutyChoice | null {
	const ticks = periodTicks(counting, reload);
	if (ticks === null) return null;
	let best: { compare: number; active: number } | undefined;
	for (const segment of segments(counting, reload, output)) {
		for (const compare of near(segment, wanted)) {
			const active = segment.active + segment.slope * (compare - segment.from);
			if (!best || closer(active, compare, best, wanted)) best = { compare, active };
		}
	}
	return best ? { compare: best.compare, activeTicks: best.active, duty: Rational.ratio(best.active, ticks) } : null;
}

/** Active ticks a period of one compare value. Throws RangeError when it does not fit the width; null where the counter is blocked. */
export function activeTicks(counting: Counting, reload: number, output: OutputRule, compare: number): Ticks | null {
	if (periodTicks(counting, reload) === null) return null;
	const segment = segments(counting, reload, output).find((s) => compare >= s.from && compare <= s.to);
	if (!segment) throw new RangeError(`compare ${compare} does not fit ${counting.width} bits`);
	return segment.active + segment.slope * (compare - segment.from);
}

/** The fewest and the most active ticks that any compare of the width reaches. */
export function activeRange(counting: Counting, reload: number, output: OutputRule): { least: Ticks; most: Ticks } | null {
	if (periodTicks(counting, reload) === null) return null;
	const ends = segments(counting, reload, output).flatMap((s) => [s.active, s.active + s.slope * (s.to - s.from)]);
	return { least: Math.min(...ends), most: Math.max(...ends) };
}

/** All compares 0..2^w-1 in ascending segments of one slope. */
function segments(counting: Counting, reload: number, output: OutputRule): Segment[] {
	const top = largest(counting.width);
	const ticks = periodTicks(counting, reload)!;
	const plain = plainRule(output);
	if (plain !== output) return segments(counting, reload, plain).map((s) => ({ ...s, active: ticks - s.active, slope: -s.slope }));
	if (output === 'turns') return turning(reload, ticks, top);
	if (counting.mode === 'updown') return rising(0, 2, ticks, top);
	if (counting.mode === 'up') return rising(output === 'leave' ? 1 : 0, 1, ticks, top);
	if (output === 'below') {
		// n <= C over the values held: 0 is held in an inclusive counter, and in one whose R = 0 stands for 2^w.
		const holdsZero = counting.rule === 'inclusive' || reload === 0;
		return rising(holdsZero ? 1 : 0, 1, ticks, top);
	}
	return downActions(counting, reload, output, ticks, top);
}

/** Active = start + slope x C until the whole period is reached, then the whole period. */
function rising(start: number, slope: number, ticks: Ticks, top: number): Segment[] {
	const full = Math.ceil((ticks - start) / slope);
	if (full > top) return [{ from: 0, to: top, active: start, slope }];
	const rest: Segment = { from: full, to: top, active: ticks, slope: 0 };
	return full > 0 ? [{ from: 0, to: full - 1, active: start, slope }, rest] : [rest];
}

/** Each match has its own half of the period; a compare at a turning point is met by only one of them, and past the top by none. */
function turning(reload: number, ticks: Ticks, top: number): Segment[] {
	const ends: Segment[] = [
		{ from: 0, to: 0, active: ticks, slope: 0 },
		{ from: reload, to: top, active: 0, slope: 0 }
	];
	return reload > 1 ? [ends[0], { from: 1, to: reload - 1, active: 2, slope: 2 }, ends[1]] : ends;
}

/** High when n becomes R, low at the match: the match comes R - C ticks later; a compare never held leaves the output high. */
function downActions(counting: Counting, reload: number, output: OutputRule, ticks: Ticks, top: number): Segment[] {
	const late = output === 'leave' ? 1 : 0;
	if (reload === 0) {
		// Exclusive R = 0: the values run 0, 2^w-1 .. 1.
		const wrapped: Segment = { from: 1, to: top, active: top + late, slope: -1 };
		return [{ from: 0, to: 0, active: late, slope: 0 }, wrapped];
	}
	const held: Segment = { from: 1, to: reload, active: reload - 1 + late, slope: -1 };
	const zero: Segment = { from: 0, to: 0, active: counting.rule === 'inclusive' ? reload + late : ticks, slope: 0 };
	const above: Segment[] = reload < top ? [{ from: reload + 1, to: top, active: ticks, slope: 0 }] : [];
	return [zero, held, ...above];
}

/** The compares of a segment that can be nearest: the two around the wish, clamped to its ends. */
function near(segment: Segment, wanted: Rational): number[] {
	if (segment.slope === 0) return [segment.from];
	const steps = wanted.sub(Rational.int(segment.active)).div(Rational.int(segment.slope)).floor();
	const last = segment.to - segment.from;
	const clamp = (k: bigint) => (k < 0n ? 0 : k > BigInt(last) ? last : Number(k));
	return [segment.from + clamp(steps), segment.from + clamp(steps + 1n)];
}

function closer(active: number, compare: number, best: { compare: number; active: number }, wanted: Rational): boolean {
	if (active === best.active) return compare < best.compare;
	const order = Rational.int(active).sub(wanted).abs().compare(Rational.int(best.active).sub(wanted).abs());
	return order < 0 || (order === 0 && active > best.active);
}
