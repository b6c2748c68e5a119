import type { Mistake } from '../change.js';
import { fed, rowed } from './rows.js';

/** The first row of a table twice, as a loop begun at the wrong place gives it. */
export const rowDoubled: Mistake = {
	code: 'table-row-doubled',
	usual: 34,
	of: (group) => fed(group).flatMap((timer) => rowed(group, timer, 'first twice', (rows) => [rows[0], ...rows]))
};
