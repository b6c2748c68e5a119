import { type Changed, type Mistake, withChannel } from '../change.js';
import { choice, driving } from './driving.js';

/** Dead time twice as long, half as long, or counted in ticks of the prescaled clock. */
export const deadTimes: Mistake[] = (
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
