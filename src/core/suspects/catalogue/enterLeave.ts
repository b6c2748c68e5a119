import { type Changed, type Mistake, withChannel } from '../change.js';
import { choice, driving } from './driving.js';

/** The output acts when the compare is left instead of when it is reached. */
export const enterLeave: Mistake = {
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
