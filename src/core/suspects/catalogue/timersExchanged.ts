import type { SimTimer } from '../../sim/index.js';
import { type Changed, type Mistake, withTimer } from '../change.js';

/** Two timers' values exchanged: each counts with what the other was to get. */
export const timersExchanged: Mistake = {
	code: 'timers-exchanged',
	usual: 27,
	of: (group, scene) =>
		group.system.timers.flatMap((timer) =>
			scene.timers
				.filter((other) => other.id !== timer.id && other.mode === timer.mode)
				.flatMap((other): Changed[] => {
					const pair = [timer.id, other.id].sort().join(' ');
					const taken = exchanged(timer, other);
					const inside = group.system.timers.some(({ id }) => id === other.id);
					let system = withTimer(group.system, timer.id, taken);
					if (inside) system = withTimer(system, other.id, exchanged(other, timer));
					if (taken.prescale === timer.prescale && taken.reload === timer.reload) return [];
					return [{ where: { timer: timer.id, what: 'timer', planned: timer.id, found: other.id }, system, shared: pair }];
				})
		)
};

function exchanged(timer: SimTimer, from: SimTimer): Partial<SimTimer> {
	const compares = from.channels.map(({ compare }) => compare);
	return {
		prescale: from.prescale,
		reload: from.reload,
		preload: from.preload,
		...(from.advance !== undefined && { advance: from.advance }),
		channels: timer.channels.map((channel, i) => ({ ...channel, compare: compares[i] ?? channel.compare }))
	};
}
