import { type Changed, type Mistake, type Register, holdable, rewritten, whereOf } from '../change.js';

/** The compare that another channel was to get. */
export const compareOfAnother: Mistake = {
	code: 'value-of-another',
	usual: 26,
	of: ({ system }, scene) =>
		system.timers.flatMap((timer) =>
			timer.channels
				.filter(({ output }) => output.model !== 'none')
				.flatMap(({ id, compare }) => {
					const values = new Set(scene.timers.flatMap((other) => other.channels.map((channel) => channel.compare)));
					return [...values].flatMap((value): Changed[] => {
						const register: Register = { name: 'compare', channel: id };
						if (value === compare || !holdable(timer, register, value) || timer.sequences) return [];
						const next = rewritten(system, timer, register, () => value);
						return next ? [{ where: whereOf(timer, register, compare, value), system: next }] : [];
					});
				})
		)
};
