import type { SimTimer } from '../../sim/index.js';
import { heldIn, holdable, rewritten, whereOf, withTimer, type Changed, type Mistake, type Register } from '../change.js';

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
