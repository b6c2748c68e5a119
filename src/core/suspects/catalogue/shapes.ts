import type { SimChannel, SimTimer } from '../../sim/index.js';
import { rewritten, withChannel, withTimer, type Changed, type Mistake } from '../change.js';
import type { Group } from '../scene.js';

/** Channels of a group that drive a pin. */
function driving({ system }: Group): { timer: SimTimer; channel: SimChannel }[] {
	return system.timers.flatMap((timer) =>
		timer.channels.filter(({ output }) => output.model !== 'none').map((channel) => ({ timer, channel }))
	);
}

function choice(timer: SimTimer, channel: SimChannel | undefined, what: string, planned: string, found: string) {
	return { timer: timer.id, ...(channel && { channel: channel.id }), what, planned, found };
}

/** It counts up and down where only up was meant, or the other way round. */
const centre: Mistake = {
	code: 'centre-halves',
	usual: 11,
	of: ({ system }) =>
		system.timers.flatMap((timer): Changed[] => {
			if (timer.mode !== 'up' && timer.mode !== 'down' && timer.mode !== 'updown') return [];
			const mode = timer.mode === 'updown' ? 'up' : 'updown';
			return [{ where: choice(timer, undefined, 'mode', timer.mode, mode), system: withTimer(system, timer.id, { mode }) }];
		})
};

/** A pin that toggles where a pulse was meant, or a toggle's halving that nobody took into account. */
const toggle: Mistake = {
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

const polarity: Mistake = {
	code: 'polarity-inverted',
	usual: 11,
	of: (group) =>
		driving(group).map(({ timer, channel }) => ({
			where: choice(timer, channel, 'polarity', channel.inverted ? 'low' : 'high', channel.inverted ? 'high' : 'low'),
			system: withChannel(group.system, timer, channel.id, { inverted: !channel.inverted })
		}))
};

/** The output acts when the compare is left instead of when it is reached. */
const enterLeave: Mistake = {
	code: 'match-enter-leave',
	usual: 18,
	of: (group) =>
		driving(group).flatMap(({ timer, channel }): Changed[] => {
			const { output } = channel;
			if (output.model !== 'action') return [];
			const edge = output.edge === 'enter' ? 'leave' : 'enter';
			return [
				{
					where: choice(timer, channel, 'match', output.edge, edge),
					system: withChannel(group.system, timer, channel.id, { output: { ...output, edge } })
				}
			];
		})
};

/** The pin is never switched over to the timer, or its output is not enabled. */
const outputOff: Mistake = {
	code: 'output-off',
	usual: 19,
	of: (group) =>
		driving(group).map(({ timer, channel }) => ({
			where: choice(timer, channel, 'output', 'on', 'off'),
			system: withChannel(group.system, timer, channel.id, {
				output: { model: 'action', edge: 'enter', initial: 0, zero: 'none', top: 'none', matchUp: 'none', matchDown: 'none' }
			})
		}))
};

/** Dead time twice as long, half as long, or counted in ticks of the prescaled clock. */
const dead: Mistake[] = (
	[
		['dead-time-doubled', 20, ({ dead }) => [2 * dead, dead / 2]],
		['dead-time-unit', 21, ({ dead, prescale }) => [dead * prescale, dead / prescale, 4 * dead, 8 * dead, dead / 4, dead / 8, 16 * dead]]
	] as [string, number, (of: { dead: number; prescale: number }) => number[]][]
).map(([code, usual, values]) => ({
	code,
	usual,
	of: (group) =>
		driving(group).flatMap(({ timer, channel }): Changed[] =>
			channel.dead === undefined || channel.dead === 0
				? []
				: [...new Set(values({ dead: channel.dead, prescale: timer.prescale }))]
						.filter((one) => Number.isInteger(one) && one !== channel.dead)
						.map((one) => ({
							where: choice(timer, channel, 'dead', String(channel.dead), String(one)),
							system: withChannel(group.system, timer, channel.id, { dead: one })
						}))
		)
}));

export const shapeMistakes: Mistake[] = [centre, toggle, polarity, enterLeave, outputOff, ...dead];
