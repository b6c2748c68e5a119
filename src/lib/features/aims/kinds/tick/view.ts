import type { AimOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, NAME, served } from '../../../../components/tokens.js';
import { modesChoice, timerChoice } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const tickView: AimView<AimOf<'tick'>> = {
	...words,
	sketch: 'M0 26H132M10 26V8M38 26V8M66 26V8M94 26V8M122 26V8',
	example: 'every 10 ms',
	wish: ({ every }) => every,
	sentence(aim, plan) {
		return [
			'Tick',
			NAME,
			'every',
			field('every', 'Interval or rate'),
			'±',
			field('tolerance', 'Tolerance'),
			'with',
			timerChoice(aim, plan),
			modesChoice(aim, plan),
			', noticed by',
			choice('notice', 'Noticed by', aim.notice, [
				['interrupt', 'interrupt'],
				['polling', 'polling'],
				['hardware', 'hardware alone']
			]),
			...served(),
			`${cyclesWord(aim.service)}. From reading`,
			field('from', 'First reading', 3),
			'to',
			field('to', 'Second reading', 3),
			'.'
		];
	}
};
