import { type AimOf, kindOf } from '../../../../../core/aims/index.js';
import { choice, field, NAME, pairText } from '../../../../components/tokens.js';
import { alignChoice, timerChoice, timerOf, updatesChoice } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const pairView: AimView<AimOf<'pair'>> = {
	...words,
	sketch: 'M0 13V4H28V13H66V4H94V13H132M0 28H34V19H60V28H100V19H126V28H132',
	example: '20 kHz 60 % pair 500 ns',
	saysMore: ({ align, updates }) => align !== 'auto' || updates !== 'auto',
	more: (aim, plan) => ['Counting', alignChoice(aim, plan), ', period events', updatesChoice(aim, plan), '.'],
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
