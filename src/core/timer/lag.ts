import { Rational, type Hertz, type Seconds } from '../exact/index.js';

/** A follower that a match of its leader starts or resets (timers.md 7). */
export interface LagSetting {
	/** Kernel rate and prescale of the leader; the match comes C x P of its kernel cycles after its start. */
	leader: { kernel: Hertz; prescale: number; /** The largest compare that is met. */ last: number };
	/** Kernel rate of the follower, and how many of its cycles the trigger takes to act. */
	follower: { kernel: Hertz; latency: number };
}

/** The lag of one compare: the event is seen at the follower's first kernel cycle at or after it, both clocks starting together. */
export function lagOf({ leader, follower }: LagSetting, compare: number): Seconds {
	const event = Rational.int(compare * leader.prescale).div(leader.kernel);
	const seen = -event.mul(follower.kernel).neg().floor();
	return Rational.of(seen + BigInt(follower.latency)).div(follower.kernel);
}

/** The compare whose lag is nearest to the wish, a tie taking the larger; kept within 0..last. */
export function nearestLag(setting: LagSetting, wish: Seconds): { compare: number; lag: Seconds } {
	const { leader, follower } = setting;
	const tick = Rational.int(leader.prescale).div(leader.kernel);
	const early = wish.sub(Rational.int(follower.latency).div(follower.kernel)).div(tick);
	// One follower cycle of rounding and one tick of ours lie between the real lag and this estimate.
	const slack = Number(-Rational.one.div(follower.kernel.mul(tick)).neg().floor()) + 1;
	const middle = Math.min(leader.last, Math.max(0, Number(early.roundHalfUp())));
	const few = Math.min(slack, 64);
	let best: { compare: number; lag: Seconds } | undefined;
	for (let compare = Math.max(0, middle - few); compare <= Math.min(leader.last, middle + few); compare++) {
		const lag = lagOf(setting, compare);
		if (!best || lag.sub(wish).abs().compare(best.lag.sub(wish).abs()) <= 0) best = { compare, lag };
	}
	return best!;
}
