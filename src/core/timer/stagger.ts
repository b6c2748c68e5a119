import { Rational } from '../exact/index.js';

/** Followers started by matches of their leader, spread over its period (timers.md 7). */
export interface Stagger {
	/** Reload of the leader: inclusive, counting up. */
	reload: number;
	/** Prescale of the leader; the followers' lag is measured from it. */
	prescale: number;
	/** Into how many parts the period is cut. */
	parts: number;
	/** Kernel cycles from the match to the follower's start, on one kernel clock. */
	latency: number;
}

export interface Follower {
	/** The leader's compare that starts it. */
	compare: number;
	lagCycles: number;
	lagDegrees: Rational;
}

/** The compare whose match, with the latency, starts follower i nearest to i parts of the period, i = 1, 2, ..; kept within 0..reload. */
export function staggered({ reload, prescale, parts, latency }: Stagger, i: number): Follower {
	const period = Rational.int((reload + 1) * prescale);
	const wished = period.mul(Rational.ratio(i, parts)).sub(Rational.int(latency)).div(Rational.int(prescale));
	const nearest = Number(wished.roundHalfUp());
	const compare = Math.min(reload, Math.max(0, nearest));
	const lagCycles = compare * prescale + latency;
	return { compare, lagCycles, lagDegrees: Rational.int(360 * lagCycles).div(period) };
}
