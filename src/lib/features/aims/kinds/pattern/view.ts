import type { AimOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, NAME } from '../../../../components/tokens.js';
import { timerChoice } from '../choices.js';
import type { AimView } from '../view.js';
import PatternLines from './PatternLines.svelte';
import { words } from './words.js';

export const patternView: AimView<AimOf<'pattern'>> = {
	...words,
	sketch: 'M0 13H11V4H22V13H33V4H44V13H55V4H66V13H77V4H88V13H99V4H110V13H121V4H132M0 28V19H22V28H44V19H88V28H110V19H132',
	example: 'pattern 100 kHz',
	wish: ({ lines, rate }) => `${lines.length} lines at ${rate}`,
	editor: PatternLines,
	sentence(aim, plan) {
		return [
			'Send the words of',
			NAME,
			'at',
			field('rate', 'Words a second'),
			'±',
			field('tolerance', 'Tolerance'),
			', paced by',
			timerChoice(aim, plan),
			', each',
			field('least', 'Least lag in core cycles', 2),
			'to',
			field('most', 'Greatest lag in core cycles', 2),
			`${cyclesWord(aim.most)} after its period event,`,
			choice('loop', 'At the end', aim.loop, [
				['yes', 'again and again'],
				['no', 'once']
			]),
			'.'
		];
	}
};
