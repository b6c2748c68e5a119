import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import type { ChannelProfile } from '../../part/index.js';
import { deadTimeCycles, deadTimeFor, type DeadTime, type DeadTimeSegment } from '../../timer/index.js';
import { readDuty, readSpan, readTolerance, readWhole } from '../common/fields.js';
import { pulseOn } from '../common/places.js';
import type { PairAim } from './schema.js';
import { DerivationDraft } from '../common/draft.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation } from '../common/derivation.js';
import { choosePeriod, periodLinks } from '../common/period.js';
import { checkUpdates, periodsAnUpdate } from '../common/updates.js';
import { choosePulse } from '../common/pulse.js';

/** A complementary pair (timers.md 5): period, duty, the encodable dead time, and what it takes from both pulses. */
export function derivePair(aim: PairAim, context: AimContext): AimDerivation<PairAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const rate = draft.rate('rate', aim.rate);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, rate));
	const duty = draft.take('duty', readDuty(aim.duty));
	const dead = draft.take('dead', readSpan(aim.dead));
	const repeat = draft.take('repeat', readWhole(aim.repeat, 0));
	const { timer, kernel } = derivation;
	if (!timer || !kernel) return derivation;
	const channel = timer.channels.find((c) => c.id === aim.channel);
	const pulse = channel && pulseOn(timer, channel, { align: aim.align, output: 'auto' });
	if (channel?.complement && !pulse && aim.align !== 'auto') {
		draft.fault({ code: 'mode-missing', mode: aim.align, timer: timer.name });
		return derivation;
	}
	if (!channel?.complement || !pulse) {
		draft.fault({ code: 'place-missing', what: aim.channel, timer: timer.name });
		return derivation;
	}
	if (repeat !== undefined && repeat > (timer.repeat ?? 0))
		draft.fault({ code: 'repeat-refused', value: repeat, limit: timer.repeat ?? 0 });
	const decided = context.repeatOn(timer.id);
	if (repeat !== undefined && repeat <= (timer.repeat ?? 0) && decided.aim && repeat !== decided.count)
		draft.fault({ code: 'repeat-shared', value: repeat, count: decided.count, other: decided.aim.name });
	checkUpdates(draft, aim.updates, pulse.counting.mode);
	const best = rate && choosePeriod(draft, pulse.counting, rate, tolerance);
	const clock = channel.complement.clock === undefined ? kernel : context.clocks.rate(channel.complement.clock);
	if (!best || !duty || !dead || !clock) return derivation;
	derivation.strip = periodLinks(timer, best);
	draft.figure('rate', best.hz, 'Hz');
	draft.figure('error', best.ppm, 'ppm');
	const chosen = choosePulse(draft, pulse, best, duty);
	const found = chosen && chooseDead(draft, channel.complement, clock, dead);
	if (!found) return derivation;
	derivation.strip.push({
		name: 'dead',
		value: found.cycles,
		holds: true,
		register: { value: found.code, width: bitsFor(Math.max(...channel.complement.segments.map(({ to }) => to))) }
	});
	const { count } = decided;
	if (count > 0) derivation.strip.push({ name: 'repeat', value: count, register: { value: count, width: bitsFor(timer.repeat ?? 0) } });
	const period = best.hz.inverse();
	const high = Rational.int(chosen.activeTicks).div(chosen.tickRate);
	derivation.run.dead = found.seconds;
	draft.figure('dead', found.seconds, 's');
	// A side that never turns keeps the whole period: there is nothing for the dead time to follow.
	const side = (name: 'main' | 'complementary', pulse: Seconds) =>
		pulse.equals(period) ? period : leftOver(draft, name, pulse, found.seconds);
	draft.figure('main', side('main', high), 's');
	draft.figure('complementary', side('complementary', period.sub(high)), 's');
	draft.figure('dead-share', found.seconds.mul(Rational.int(2)).div(period), '%');
	draft.figure('least-duty', found.seconds.div(period), '%');
	draft.figure('most-duty', Rational.one.sub(found.seconds.div(period)), '%');
	draft.figure('updates', best.hz.div(periodsAnUpdate(context, timer, pulse.counting.mode)), 'Hz');
	draft.formula('pair', { clock, dead, cycles: Rational.int(found.cycles), code: Rational.int(found.code) });
	return derivation;
}

/** Bits of a register that holds 0 .. most. */
function bitsFor(most: number): number {
	return Math.max(1, Math.ceil(Math.log2(most + 1)));
}

/** The shortest dead time that is long enough, or the one whose code is held. */
function chooseDead(
	draft: DerivationDraft,
	{ segments }: NonNullable<ChannelProfile['complement']>,
	clock: Hertz,
	dead: Seconds
): DeadTime | undefined {
	const code = draft.held('dead', 0, Math.max(...segments.map(({ to }) => to)));
	if (code === null) return undefined;
	if (code !== undefined) {
		const cycles = deadTimeCycles(segments, code);
		if (cycles === undefined)
			draft.fault({ code: 'lock-refused', link: 'dead', value: code, limit: Math.max(...segments.map(({ to }) => to)) });
		else {
			const seconds = Rational.int(cycles).div(clock);
			if (seconds.compare(dead) < 0) draft.fault({ code: 'locks-conflict', links: ['dead'], got: seconds, wish: dead, unit: 's' });
			return { code, cycles, seconds };
		}
		return undefined;
	}
	const found = deadTimeFor(segments, clock, dead);
	if (!found) draft.fault({ code: 'dead-too-long', wish: dead, longest: Rational.int(longestDead(segments)).div(clock) });
	return found ?? undefined;
}

/** What is left of a pulse after the dead time; one no longer than it is swallowed, which is told unless there was none. */
function leftOver(draft: DerivationDraft, side: 'main' | 'complementary', pulse: Seconds, dead: Seconds): Seconds {
	if (pulse.compare(dead) > 0) return pulse.sub(dead);
	if (pulse.sign > 0) draft.fault({ code: 'swallowed', side, pulse, dead });
	return Rational.zero;
}

function longestDead(segments: readonly DeadTimeSegment[]): number {
	return Math.max(...segments.map(({ from, to, base, step }) => base + (to - from) * step));
}
