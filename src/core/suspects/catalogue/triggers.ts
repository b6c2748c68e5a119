import type { SimTimer } from '../../sim/index.js';
import { withTimer, type Changed, type Mistake } from '../change.js';
import type { Group } from '../scene.js';

const triggered = ({ system }: Group) =>
	system.timers.filter((timer): timer is SimTimer & { trigger: NonNullable<SimTimer['trigger']> } => timer.trigger !== undefined);

/** The trigger comes from another event of the leader, from the other edge of an input. */
const otherTrigger: Mistake = {
	code: 'other-trigger',
	usual: 37,
	of: (group) =>
		triggered(group).flatMap((timer): Changed[] => {
			const { from } = timer.trigger;
			const sources =
				'input' in from
					? (['rise', 'fall', 'both'] as const).filter((edge) => edge !== from.edge).map((edge) => ({ ...from, edge }))
					: eventsOf(group, from.timer)
							.filter((event) => event !== from.event)
							.map((event) => ({ ...from, event }));
			return sources.map((source) => ({
				where: { timer: timer.id, what: 'trigger', planned: nameOf(from), found: nameOf(source) },
				system: withTimer(group.system, timer.id, { trigger: { ...timer.trigger, from: source } })
			}));
		})
};

const nameOf = (from: NonNullable<SimTimer['trigger']>['from']) => ('input' in from ? from.edge : from.event);

function eventsOf({ system }: Group, leader: string): string[] {
	const timer = system.timers.find(({ id }) => id === leader);
	return ['start', 'update', ...(timer?.channels.flatMap(({ id }) => [`match:${id}`, `level:${id}`]) ?? [])];
}

/** The cycles from the trigger to its effect were not taken off. */
const latency: Mistake = {
	code: 'latency-uncompensated',
	usual: 38,
	of: (group) =>
		triggered(group).flatMap((timer): Changed[] => {
			const { latency: planned } = timer.trigger;
			return planned === 0
				? []
				: [2 * planned, 0].map((found) => ({
						where: { timer: timer.id, what: 'latency', planned, found },
						system: withTimer(group.system, timer.id, { trigger: { ...timer.trigger, latency: found } })
					}));
		})
};

/** Software that loads or clears the counter comes later than was counted on. */
function lag(code: string, mode: 'preload' | 'clear', usual: number): Mistake {
	return {
		code,
		usual,
		of: (group) =>
			group.system.timers
				.filter((timer) => timer.mode === mode)
				.flatMap((timer): Changed[] => {
					const planned = timer.late ?? 0;
					return lagsOf(group, timer).map((late) => ({
						where: { timer: timer.id, what: 'late', planned, found: late },
						system: withTimer(group.system, timer.id, { late })
					}));
				})
	};
}

/** Ticks of lag that would give what was measured, and none at all. */
function lagsOf(group: Group, timer: SimTimer): number[] {
	const tick = timer.kernel * timer.prescale * group.seconds;
	const planned = timer.late ?? 0;
	const whole = timer.mode === 'preload' ? 2 ** timer.width - timer.preload : timer.reload + 1;
	const found = group.lines.flatMap(({ seen }) => (seen.measures.period ? [seen.measures.period.mean.toNumber() / tick] : []));
	// A pin that turns at every event shows two of them in a period.
	const wanted = found.flatMap((ticks) => [Math.round(ticks) - whole, Math.round(ticks / 2) - whole]);
	return [...new Set([...wanted, 0])].filter((late) => late >= 0 && late !== planned && late < whole);
}

export const triggerMistakes: Mistake[] = [
	otherTrigger,
	latency,
	lag('software-reload-lag', 'preload', 39),
	lag('software-clear-lag', 'clear', 39)
];
