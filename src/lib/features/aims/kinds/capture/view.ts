import type { AimOf } from '../../../../../core/aims/index.js';
import { choice, cyclesWord, field, filters, NAME, overflows, served } from '../../../../components/tokens.js';
import { ordinal } from '../../../../text/index.js';
import { channelChoice, timerChoice, timerOf } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const captureView: AimView<AimOf<'capture'>> = {
	...words,
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
