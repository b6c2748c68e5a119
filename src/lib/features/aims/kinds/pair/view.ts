import { type AimOf, kindOf } from '../../../../../core/aims/index.js';
import { choice, field, NAME, pairText } from '../../../../components/tokens.js';
import { timerChoice, timerOf } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const pairView: AimView<AimOf<'pair'>> = {
	...words,
	wish: ({ rate, duty }) => `${rate}, ${duty}`,
	sentence(aim, plan) {
		const { part } = plan;
		const timer = timerOf(aim, plan);
		return [
			'Drive the pair',
			NAME,
			'on',
			timerChoice(aim, plan),
			choice(
				'channel',
				'Channel',
				aim.channel,
				timer
					? kindOf(aim)
							.channelsOn(timer)
							.map((c) => [c.id, pairText(part, timer, c.id, c.name)])
					: []
			),
			'at',
			field('rate', 'Rate or period'),
			'±',
			field('tolerance', 'Tolerance'),
			', duty',
			field('duty', 'Duty'),
			', dead time',
			field('dead', 'Dead time'),
			', skipping',
			field('repeat', 'Repeat count', 2),
			'periods between its period events.'
		];
	}
};
