import { Rational } from '../../exact/index.js';
import { type Changed, type Mistake, rewritten } from '../change.js';
import type { Group } from '../scene.js';
import { compareFor, compared, pulses } from './pulses.js';

/** A third of the period worked out as 33 %: the share cut or rounded to whole percents. */
export const wholePercents: Mistake = {
	code: 'third-as-33-percent',
	usual: 22,
	of: (group) => [
		...lagPercents(group),
		...pulses(group).flatMap((at) => {
			const share = at.pulse.wantedTicks.div(Rational.int(at.pulse.ticks)).mul(Rational.int(100));
			if (share.isInteger) return [];
			const percents = [share.floor(), share.floor() + 1n];
			return percents.flatMap((percent) =>
				compared(group, at, compareFor(at.pulse, Rational.of(percent, 100n).mul(Rational.int(at.pulse.ticks))))
			);
		})
	]
};

/** The same of a follower's lag: a share of its leader's period at whose place that one's compare starts it. */
function lagPercents(group: Group): Changed[] {
	return group.system.timers.flatMap((timer) =>
		timer.channels
			.filter(({ output }) => output.model === 'none')
			.flatMap(({ id, compare }) => {
				const ticks = timer.mode === 'updown' ? 2 * timer.reload : timer.reload + 1;
				// The cycles from trigger to effect were taken off the compare.
				const early = latencyBehind(group, timer.id, id);
				const share = Rational.ratio(compare + early, ticks).mul(Rational.int(100));
				if (share.isInteger) return [];
				return [share.floor(), share.floor() + 1n].flatMap((percent): Changed[] => {
					const found = Number(Rational.of(percent, 100n).mul(Rational.int(ticks)).roundHalfUp()) - early;
					const next = rewritten(group.system, timer, { name: 'compare', channel: id }, () => found);
					return next ? [{ where: { timer: timer.id, channel: id, what: 'compare', planned: compare, found }, system: next }] : [];
				});
			})
	);
}

/** Ticks by which a match comes earlier than what it triggers, in ticks of a timer that follows at the same pace. */
function latencyBehind({ system }: Group, timer: string, channel: string): number {
	const follower = system.timers.find(
		({ trigger }) => trigger && 'timer' in trigger.from && trigger.from.timer === timer && trigger.from.event === `match:${channel}`
	);
	const leader = system.timers.find(({ id }) => id === timer);
	if (!follower?.trigger || !leader) return 0;
	return Math.round((follower.trigger.latency * follower.kernel) / (leader.kernel * leader.prescale));
}
