import { type Changed, type Mistake, withTimer } from '../change.js';
import { choice, fed } from './rows.js';

/** Every row comes one period later than planned: nothing was filled in ahead. */
export const rowLate: Mistake = {
	code: 'table-row-late',
	usual: 33,
	of: (group) =>
		fed(group).flatMap((timer): Changed[] => {
			const sequences = timer.sequences?.map((one) =>
				one.prefill ? { ...one, prefill: false } : { ...one, rows: [one.rows.at(-1)!, ...one.rows.slice(0, -1)] }
			);
			return sequences ? [{ where: choice(timer, 'rows', 0, 1), system: withTimer(group.system, timer.id, { sequences }) }] : [];
		})
};
