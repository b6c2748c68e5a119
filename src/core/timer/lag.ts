import { Rational, type Hertz, type Seconds } from '../exact/index.js';

/** A follower that a match of its leader starts or resets (timers.md 7). */
export interface LagSetting {
	/** Kernel rate and prescale of the leader; the match comes so many of its ticks after its start. */
	leader: { kernel: Hertz; prescale: number };
	/** Kernel rate of the follower, and how many of its cycles the trigger takes to act. */
	follower: { kernel: Hertz; latency: number };
}

/** The lag of a match so many ticks of the leader after its start: it is seen at the follower's first kernel cycle at or after it, both clocks starting together. */
export function lagOf({ leader, follower }: LagSetting, ticks: number): Seconds {
	const event = Rational.int(ticks).mul(Rational.int(leader.prescale)).div(leader.kernel);
	const seen = -event.mul(follower.kernel).neg().floor();
	return Rational.of(seen + BigInt(follower.latency)).div(follower.kernel);
}

/** The ticks, 0 to `last`, whose lag is nearest to the wish, a tie taking the more. */
export function nearestLag(setting: LagSetting, wish: Seconds, last: number): { ticks: number; lag: Seconds } {
	const { leader, follower } = setting;
	// Lags never fall with the ticks. Those that are seen at one follower cycle are alike: the last of them stands for all.
	const cycle = Rational.int(leader.prescale).mul(follower.kernel).div(leader.kernel);
	const lastSeenAt = (seen: bigint) => clamp(Rational.of(seen).div(cycle).floor(), last);
	const wished = wish.mul(follower.kernel).floor() - BigInt(follower.latency);
	const before = lastSeenAt(wished);
	const next = Math.min(last, before + 1);
	const seen = -Rational.int(next).mul(cycle).neg().floor();
	const after = lastSeenAt(seen);
	const [low, high] = [before, after].map((ticks) => ({ ticks, lag: lagOf(setting, ticks) }));
	return high.lag.sub(wish).abs().compare(low.lag.sub(wish).abs()) <= 0 ? high : low;
}

function clamp(value: bigint, last: number): number {
	return value < 0n ? 0 : value > BigInt(last) ? last : Number(value);
}
