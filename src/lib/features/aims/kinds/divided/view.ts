import type { AimOf } from '../../../../../core/aims/index.js';
import { cyclesWord, field, NAME, served } from '../../../../components/tokens.js';
import { modesChoice, timerChoice } from '../choices.js';
import type { AimView } from '../view.js';
import OutputLines from './OutputLines.svelte';
import { words } from './words.js';

export const dividedView: AimView<AimOf<'divided'>> = {
	...words,
	sketch: 'M4 11V4M15 11V4M26 11V4M37 11V4M48 11V4M59 11V4M70 11V4M81 11V4M92 11V4M103 11V4M114 11V4M125 11V4M0 28H4V18H48V28H92V18H132',
	example: '',
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
