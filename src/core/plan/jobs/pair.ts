import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { ChannelProfile } from '../../part/index.js';
import { deadTimeCycles, deadTimeFor, type DeadTime, type DeadTimeSegment } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readDuty, readRate, readTime, readTolerance, readWhole } from '../fields.js';
import { pulseOn } from '../places.js';
import type { PairAim } from './aims.js';
import { JobBench, type JobDerivation, type Surroundings } from './job.js';
import { choosePeriod, periodLinks } from './period.js';
import { choosePulse } from './pulse.js';

/** A complementary pair (timers.md 5): period, duty, the encodable dead time, and what it takes from both pulses. */
export function derivePair(plan: Plan, aim: PairAim, clocks: PlanClocks, around: Surroundings): JobDerivation {
	const bench = new JobBench(plan, aim, clocks, around);
	const { derivation } = bench;
	const rate = bench.take('rate', readRate(aim.rate));
	const tolerance = bench.take('tolerance', readTolerance(aim.tolerance, rate));
	const duty = bench.take('duty', readDuty(aim.duty));
	const dead = bench.take('dead', readTime(aim.dead));
	const repeat = bench.take('repeat', readWhole(aim.repeat, 0));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const pulse = channel && pulseOn(timer, channel);
	if (!channel?.complement || !pulse) {
		bench.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
		return derivation;
	}
	if (repeat !== undefined && repeat > (timer.repeat ?? 0))
		bench.fault({ code: 'repeat-refused', value: repeat, limit: timer.repeat ?? 0 });
	const best = rate && choosePeriod(bench, pulse.counting, rate, tolerance);
	const clock = channel.complement.clock === undefined ? kernel : clocks.rate(channel.complement.clock);
	if (!best || !duty || !dead || !clock) return derivation;
	derivation.strip = periodLinks(timer, best);
	bench.figure('rate', best.hz, 'Hz');
	bench.figure('error', best.ppm, 'ppm');
	const chosen = choosePulse(bench, pulse, best, duty);
	const found = chosen && chooseDead(bench, channel.complement, clock, dead);
	if (!found) return derivation;
	derivation.strip.push({ name: 'dead', value: found.cycles, holds: true, register: { value: found.code, width: 8 } });
	if (repeat) derivation.strip.push({ name: 'repeat', value: repeat, register: { value: repeat, width: 8 } });
	const period = best.hz.inverse();
	const high = Rational.int(chosen.active).div(chosen.tickRate);
	derivation.run.dead = found.seconds;
	bench.figure('dead', found.seconds, 's');
	bench.figure('main', leftOver(bench, 'main', high, found.seconds), 's');
	bench.figure('complementary', leftOver(bench, 'complementary', period.sub(high), found.seconds), 's');
	bench.figure('dead-share', found.seconds.mul(Rational.int(2)).div(period), '%');
	bench.figure('least-duty', found.seconds.div(period), '%');
	bench.figure('most-duty', Rational.one.sub(found.seconds.div(period)), '%');
	bench.figure('updates', best.hz.div(Rational.int((repeat ?? 0) + 1)), 'Hz');
	bench.formula('pair', { clock, dead, cycles: Rational.int(found.cycles), code: Rational.int(found.code) });
	return derivation;
}

/** The shortest dead time that is long enough, or the one whose code is held. */
function chooseDead(
	bench: JobBench,
	{ segments }: NonNullable<ChannelProfile['complement']>,
	clock: Hertz,
	dead: Seconds
): DeadTime | undefined {
	const code = bench.held('dead', 0, Math.max(...segments.map(({ to }) => to)));
	if (code === null) return undefined;
	if (code !== undefined) {
		const cycles = deadTimeCycles(segments, code);
		if (cycles === undefined)
			bench.fault({ code: 'lock-refused', link: 'dead', value: code, limit: Math.max(...segments.map(({ to }) => to)) });
		else {
			const seconds = Rational.int(cycles).div(clock);
			if (seconds.compare(dead) < 0) bench.fault({ code: 'locks-conflict', links: ['dead'], got: seconds, wish: dead, unit: 's' });
			return { code, cycles, seconds };
		}
		return undefined;
	}
	const found = deadTimeFor(segments, clock, dead);
	if (!found) bench.fault({ code: 'dead-too-long', wish: dead, longest: Rational.int(longestDead(segments)).div(clock) });
	return found ?? undefined;
}

/** What is left of a pulse after the dead time; one no longer than it is swallowed, which is told unless there was none. */
function leftOver(bench: JobBench, side: 'main' | 'complementary', pulse: Seconds, dead: Seconds): Seconds {
	if (pulse.compare(dead) > 0) return pulse.sub(dead);
	if (pulse.sign > 0) bench.fault({ code: 'swallowed', side, pulse, dead });
	return Rational.zero;
}

function longestDead(segments: readonly DeadTimeSegment[]): number {
	return Math.max(...segments.map(({ from, to, base, step }) => base + (to - from) * step));
}
