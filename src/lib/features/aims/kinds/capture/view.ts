import type { AimOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, filters, NAME, overflows, served } from '../../../../components/tokens.js';
import { ordinal } from '../../../../text/index.js';
import { channelChoice, timerChoice, timerOf } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const captureView: AimView<AimOf<'capture'>> = {
	...words,
	sketch: 'M0 22V5H22V22H44V5H60V22H76V5H87V22H98V5H105V22H112V5H117V22H122V5H127V22H132M0 29H44M0 26V32M44 26V32',
	example: 'measure 2 Hz to 200 Hz',
	wish: ({ lowest, highest }) => `${lowest} to ${highest}`,
	sentence(aim, plan) {
		const timer = timerOf(aim, plan);
		return [
			'Measure the rate of',
			NAME,
			'on',
			timerChoice(aim, plan),
			channelChoice(aim, plan),
			'from',
			field('lowest', 'Lowest rate'),
			'to',
			field('highest', 'Highest rate'),
			'within',
			field('step', 'Wished step'),
			'a count, every',
			choice('every', 'Every n-th edge', aim.every, [
				['auto', 'fitting'],
				...(timer?.channels.find((c) => c.id === aim.channel)?.capture?.every ?? []).map((k): [string, string] => [String(k), ordinal(k)])
			]),
			'edge, overflows',
			overflows(aim.overflows),
			...served(),
			`${cyclesWord(aim.service)}; by`,
			choice('method', 'Method', aim.method, [
				['capture', 'time between edges'],
				['gated', 'edges counted'],
				['switched', 'whichever is finer']
			]),
			...(aim.method === 'capture' ? [] : ['for', field('gate', 'Gate time')]),
			', filter',
			filters(aim.filter, timer?.channels.find((c) => c.id === aim.channel)?.capture?.filters),
			'.'
		];
	}
};
