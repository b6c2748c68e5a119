import type { AimOf } from '../../../../../core/aims/index.js';
import { field, NAME } from '../../../../components/tokens.js';
import { channelChoice, timerChoice } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const toggleView: AimView<AimOf<'toggle'>> = {
	...words,
	sketch: 'M0 26H22V6H44V26H66V6H88V26H110V6H132',
	example: 'toggle 1 kHz',
	wish: ({ rate }) => rate,
	sentence(aim, plan) {
		return [
			'Toggle',
			NAME,
			'on',
			timerChoice(aim, plan),
			channelChoice(aim, plan),
			'to make a clock of',
			field('rate', 'Rate or period'),
			'±',
			field('tolerance', 'Tolerance'),
			'.'
		];
	}
};
