import type { Mistake } from '../change.js';
import { fed, rowed } from './rows.js';

/** Rows that are tried as the one left out: the ends, where loops go wrong, and all of short tables. */
const SHORT = 64;

/** A row of a table left out. */
export const rowMissing: Mistake = {
	code: 'table-row-missing',
	usual: 35,
	of: (group) =>
		fed(group).flatMap((timer) => {
			const rows = timer.sequences?.[0]?.rows.length ?? 0;
			const all = rows <= SHORT ? Array.from({ length: rows }, (_, i) => i) : [0, 1, rows - 2, rows - 1];
			return all.flatMap((at) =>
				rowed(group, timer, String(at), (list) => (list.length > 1 ? list.filter((_, i) => i !== at) : undefined))
			);
		})
};
