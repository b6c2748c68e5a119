import type { SimTimer } from '../../sim/index.js';
import { type Changed, type Mistake, type Register, heldIn, holdable, rewritten, whereOf } from '../change.js';

const ways = (timer: SimTimer): Register[] =>
	timer.mode === 'free' || timer.mode === 'tap' ? [{ name: 'prescale' }] : [{ name: 'reload' }, { name: 'prescale' }];

/** The value that another timer was to get. */
export const valueOfAnother: Mistake = {
	code: 'value-of-another',
	usual: 25,
	of: ({ system }, scene) =>
		system.timers.flatMap((timer) =>
			scene.timers
				.filter(({ id }) => id !== timer.id)
				.flatMap((other) =>
					ways(timer).flatMap((register): Changed[] => {
						const value = heldIn(other, register);
						const next = holdable(timer, register, value) ? rewritten(system, timer, register, () => value) : undefined;
						return next ? [{ where: whereOf(timer, register, heldIn(timer, register), value), system: next }] : [];
					})
				)
		)
};
