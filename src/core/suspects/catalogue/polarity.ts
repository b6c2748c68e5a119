import { type Mistake, withChannel } from '../change.js';
import { choice, driving } from './driving.js';

/** The other polarity, of any pin that a channel drives. */
export const polarity: Mistake = {
	code: 'polarity-inverted',
	usual: 11,
	of: (group) =>
		driving(group).map(({ timer, channel }) => ({
			where: choice(timer, channel, 'polarity', channel.inverted ? 'low' : 'high', channel.inverted ? 'high' : 'low'),
			system: withChannel(group.system, timer, channel.id, { inverted: !channel.inverted })
		}))
};
