import type { SimTimer } from '../../sim/index.js';
import { type Changed, type Mistake, rewritten, withChannel } from '../change.js';
import type { Group } from '../scene.js';
import { choice, driving } from './driving.js';

/** A pin that toggles where a pulse was meant, or a toggle's halving that nobody took into account. */
export const toggle: Mistake = {
	code: 'toggle-halves',
	usual: 17,
	of: (group) =>
		driving(group).flatMap(({ timer, channel }): Changed[] => {
			const { output } = channel;
			const toggling = output.model === 'action' && [output.zero, output.top, output.matchUp, output.matchDown].includes('toggle');
			if (toggling) return halved(group, timer);
			const made = { model: 'action', edge: 'enter', initial: 0, zero: 'none', top: 'none', matchUp: 'toggle', matchDown: 'none' } as const;
			const toggled = timer.mode === 'down' ? { ...made, matchUp: 'none' as const, matchDown: 'toggle' as const } : made;
			return [
				{
					where: choice(timer, channel, 'output', 'pulse', 'toggle'),
					system: withChannel(group.system, timer, channel.id, { output: toggled })
				}
			];
		})
};

/** The wished rate taken for that of the toggles: twice, or half, the period. */
function halved({ system }: Group, timer: SimTimer): Changed[] {
	const ticks = (reload: number) => (timer.mode === 'updown' ? 2 * reload : reload + 1);
	return [ticks(timer.reload) * 2, ticks(timer.reload) / 2].flatMap((wanted): Changed[] => {
		const reload = timer.mode === 'updown' ? wanted / 2 : wanted - 1;
		const next = Number.isInteger(reload) ? rewritten(system, timer, { name: 'reload' }, () => reload) : undefined;
		return next ? [{ where: choice(timer, undefined, 'reload', String(timer.reload), String(reload)), system: next }] : [];
	});
}
