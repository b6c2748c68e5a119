import type { AimOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, filters, NAME, overflows, served } from '../../../../components/tokens.js';
import { channelChoice, timerChoice, timerOf } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const widthView: AimView<AimOf<'width'>> = {
	...words,
	sketch: 'M0 22H26V5H86V22H132M26 29H86M26 26V32M86 26V32',
	example: 'measure 1 ms to 20 ms',
	wish: ({ shortest, longest }) => `${shortest} to ${longest}`,
	sentence(aim, plan) {
		const timer = timerOf(aim, plan);
		return [
			'Measure each',
			choice('level', 'Level', aim.level, [
				['high', 'high'],
				['low', 'low']
			]),
			'pulse of',
			NAME,
			'on',
			timerChoice(aim, plan),
			channelChoice(aim, plan),
			'that lasts',
			field('shortest', 'Shortest width'),
			'to',
			field('longest', 'Longest width'),
			'within',
			field('step', 'Wished step'),
			'a count, overflows',
			overflows(aim.overflows),
			...served(),
			`${cyclesWord(aim.service)}, filter`,
			filters(aim.filter, timer?.channels.find((c) => c.id === aim.channel)?.capture?.filters),
			'; one',
			field('unit', 'Unit', 3),
			'is',
			field('each', 'Time of one unit', 3),
			'.'
		];
	}
};
