import { Rational, type Seconds } from '../../exact/index.js';
import { activeTicks, deadTimeFor, nearestActive, type DeadTimeSegment } from '../../timer/index.js';
import type { PlanClocks } from '../clocks.js';
import type { Plan } from '../document.js';
import { readDuty, readRate, readTime, readTolerance, readWhole, wantedTicks } from '../fields.js';
import { pulseOn } from '../places.js';
import type { PairAim } from './aims.js';
import { JobBench, type JobDerivation } from './job.js';
import { choosePeriod, prescaleLink } from './period.js';

/** A complementary pair (timers.md 5): period, duty, the encodable dead time, and what it takes from both pulses. */
export function derivePair(plan: Plan, aim: PairAim, clocks: PlanClocks): JobDerivation {
	const bench = new JobBench(plan, aim, clocks);
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
		bench.say({ code: 'place-missing', severity: 'fault', what: aim.channel, timer: timer.name });
		return derivation;
	}
	if (repeat !== undefined && repeat > (timer.repeat ?? 0))
		bench.say({ code: 'repeat-refused', severity: 'fault', value: repeat, limit: timer.repeat ?? 0 });
	const best = rate && choosePeriod(bench, pulse.counting, rate, tolerance);
	const clock = channel.complement.clock === undefined ? kernel : clocks.rate(channel.complement.clock);
	if (!best || !duty || !dead || !clock) return derivation;
	const tickRate = kernel.div(Rational.int(best.prescale));
	const wanted = wantedTicks(duty, tickRate, best.ticks);
	if (wanted.sign < 0 || wanted.compare(Rational.int(best.ticks)) > 0)
		bench.say({ code: 'duty-outside', severity: 'fault', wanted: wanted.div(Rational.int(best.ticks)) });
	const chosen = nearestActive(pulse.counting, best.reload, pulse.rule, wanted)!;
	const active = activeTicks(pulse.counting, best.reload, pulse.rule, chosen.compare)!;
	const register = (value: number) => ({ value, width: timer.width });
	derivation.strip = [
		prescaleLink(timer, best.prescale),
		{ name: 'reload', value: best.reload, register: register(best.reload) },
		{ name: 'compare', value: chosen.compare, register: register(chosen.compare) }
	];
	bench.figure('rate', best.hz, 'Hz');
	bench.figure('error', best.ppm, 'ppm');
	bench.figure('duty', chosen.duty, '%');
	const found = deadTimeFor(channel.complement.segments, clock, dead);
	if (!found) {
		bench.say({
			code: 'dead-too-long',
			severity: 'fault',
			wish: dead,
			longest: Rational.int(longestDead(channel.complement.segments)).div(clock)
		});
		return derivation;
	}
	derivation.strip.push({ name: 'dead', value: found.cycles, register: { value: found.code, width: 8 } });
	if (repeat) derivation.strip.push({ name: 'repeat', value: repeat, register: { value: repeat, width: 8 } });
	const period = best.hz.inverse();
	const high = Rational.int(active).div(tickRate);
	bench.figure('dead', found.seconds, 's');
	bench.figure('main', leftOver(bench, 'main', high, found.seconds), 's');
	bench.figure('complementary', leftOver(bench, 'complementary', period.sub(high), found.seconds), 's');
	bench.figure('dead-share', found.seconds.mul(Rational.int(2)).div(period), '%');
	bench.figure('least-duty', found.seconds.div(period), '%');
	bench.figure('updates', best.hz.div(Rational.int((repeat ?? 0) + 1)), 'Hz');
	bench.formula('pair', { clock, dead, cycles: Rational.int(found.cycles), code: Rational.int(found.code) });
	return derivation;
}

/** What is left of a pulse after the dead time; one no longer than it is swallowed, which is told unless there was none. */
function leftOver(bench: JobBench, side: 'main' | 'complementary', pulse: Seconds, dead: Seconds): Seconds {
	if (pulse.compare(dead) > 0) return pulse.sub(dead);
	if (pulse.sign > 0) bench.say({ code: 'swallowed', severity: 'fault', side, pulse, dead });
	return Rational.zero;
}

function longestDead(segments: readonly DeadTimeSegment[]): number {
	return Math.max(...segments.map(({ from, to, base, step }) => base + (to - from) * step));
}
