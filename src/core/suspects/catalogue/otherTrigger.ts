import type { SimTimer } from '../../sim/index.js';
import { type Changed, type Mistake, withTimer } from '../change.js';
import type { Group } from '../scene.js';
import { triggered } from './triggered.js';

/** The trigger comes from another event of the leader, from the other edge of an input. */
export const otherTrigger: Mistake = {
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
