import { Rational, type Hertz, type Seconds } from '../exact/index.js';

/** D = base + (code - from) x step for codes from..to, in cycles of the dead-time clock (timers.md 5). */
export interface DeadTimeSegment {
	from: number;
	to: number;
	base: number;
	step: number;
}

export interface DeadTime {
	code: number;
	/** D in cycles. */
	cycles: number;
	seconds: Seconds;
}

/** The shortest dead time that can be encoded and is no shorter than the wish, by its smallest code; null when none is long enough. */
export function deadTimeFor(segments: readonly DeadTimeSegment[], clock: Hertz, wish: Seconds): DeadTime | null {
	const least = wish.mul(clock);
	let best: { code: number; cycles: number } | undefined;
	for (const { from, to, base, step } of segments) {
		const short = least.sub(Rational.int(base)).div(Rational.int(step));
		const up = short.neg().floor() * -1n;
		const at = up < 0n ? 0n : up;
		if (at > BigInt(to - from)) continue;
		const found = { code: from + Number(at), cycles: base + Number(at) * step };
		if (!best || found.cycles < best.cycles || (found.cycles === best.cycles && found.code < best.code)) best = found;
	}
	return best ? { ...best, seconds: Rational.int(best.cycles).div(clock) } : null;
}

/** Cycles of one code; undefined for a code in no segment. */
export function deadTimeCycles(segments: readonly DeadTimeSegment[], code: number): number | undefined {
	const segment = segments.find(({ from, to }) => code >= from && code <= to);
	return segment && segment.base + (code - segment.from) * segment.step;
}
