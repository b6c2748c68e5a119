import { type Changed, type Mistake, withTimer } from '../change.js';
import { choice } from './driving.js';

/** It counts up and down where only up was meant, or the other way round. */
export const centre: Mistake = {
	code: 'centre-halves',
	usual: 11,
	of: ({ system }) =>
		system.timers.flatMap((timer): Changed[] => {
			if (timer.mode !== 'up' && timer.mode !== 'down' && timer.mode !== 'updown') return [];
			const mode = timer.mode === 'updown' ? 'up' : 'updown';
			return [{ where: choice(timer, undefined, 'mode', timer.mode, mode), system: withTimer(system, timer.id, { mode }) }];
		})
};
