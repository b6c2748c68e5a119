import { type Mistake, withTimer } from '../change.js';
import { choice } from './rows.js';

/** A compare written at once that should wait for the update, or the other way round. */
export const unbuffered: Mistake = {
	code: 'written-unbuffered',
	usual: 32,
	of: (group) =>
		group.system.timers
			.filter(({ sequences, id }) => sequences !== undefined || group.system.writes.some(({ timer }) => timer === id))
			.map((timer) => {
				const to = !(timer.buffered.compare && timer.buffered.reload);
				const channels = timer.channels.map((channel) => ({ ...channel, buffered: to }));
				const sequences = timer.sequences?.map((one) => ({ ...one, prefill: one.prefill && to }));
				return {
					where: choice(timer, 'buffered', to ? 'no' : 'yes', to ? 'yes' : 'no'),
					system: withTimer(group.system, timer.id, { channels, buffered: { reload: to, compare: to }, ...(sequences && { sequences }) })
				};
			})
};
