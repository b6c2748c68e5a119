import type { AimOf } from '../../../../../core/aims/index.js';
import { cyclesWord, field, NAME, served } from '../../../../components/tokens.js';
import { modesChoice, timerChoice } from '../choices.js';
import type { AimView } from '../view.js';
import OutputLines from './OutputLines.svelte';
import { words } from './words.js';

export const dividedView: AimView<AimOf<'divided'>> = {
	...words,
	wish: ({ outputs, frame }) => `${outputs.length} every ${frame}`,
	editor: OutputLines,
	sentence(aim, plan) {
		return [
			'Count the pulses of',
			NAME,
			'out of a tick every',
			field('every', 'Interval or rate of the tick'),
			'±',
			field('tolerance', 'Tolerance'),
			'from',
			timerChoice(aim, plan),
			modesChoice(aim, plan),
			...served(),
			`${cyclesWord(aim.service)}; a pulse each every`,
			field('frame', 'Period of the pulses'),
			'±',
			field('frameTolerance', 'Tolerance of that period'),
			', counters up to',
			field('factor', 'Largest factor'),
			'.'
		];
	}
};
