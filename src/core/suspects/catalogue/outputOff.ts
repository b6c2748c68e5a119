import { type Mistake, withChannel } from '../change.js';
import { choice, driving } from './driving.js';

/** The pin is never switched over to the timer, or its output is not enabled. */
export const outputOff: Mistake = {
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
