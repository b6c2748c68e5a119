import { type Mistake, withTimer } from '../change.js';
import { choice, fed } from './rows.js';

/** Rows or words never come: what should pace them is not enabled. */
export const pacingOff: Mistake = {
	code: 'pacing-off',
	usual: 28,
	of: (group) =>
		fed(group).map((timer) => {
			const { pattern, sequences } = timer;
			const first = sequences?.map((one) => ({ ...one, rows: one.rows.slice(0, 1), loop: false }));
			return {
				where: choice(timer, 'pacing', 'on', 'off'),
				system: withTimer(group.system, timer.id, {
					...(first && { sequences: first }),
					...(pattern && { pattern: { ...pattern, words: [] } })
				})
			};
		})
};
