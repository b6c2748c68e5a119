import { type Changed, type Mistake, withTimer } from '../change.js';
import { triggered } from './triggered.js';

/** The cycles from the trigger to its effect were not taken off. */
export const latency: Mistake = {
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
