import { type Mistake, withTimer } from '../change.js';
import { choice, fed } from './rows.js';

/** The flag stays set after the first event: software writes one row more and no other. */
export const flagKept: Mistake = {
	code: 'flag-not-cleared',
	usual: 36,
	of: (group) =>
		fed(group).flatMap((timer) => {
			const kept = timer.sequences?.map((one) => ({ ...one, rows: one.rows.slice(0, 2), loop: false }));
			return kept
				? [{ where: choice(timer, 'flag', 'cleared', 'kept'), system: withTimer(group.system, timer.id, { sequences: kept }) }]
				: [];
		})
};
