import type { AimOf } from '../../../../../core/aims/index.js';
import { choice, field, NAME, placeText } from '../../../../components/tokens.js';
import { channelChoice, timerChoice, timerOf } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const oneshotView: AimView<AimOf<'oneshot'>> = {
	...words,
	sketch: 'M0 13H20V4H27V13H132M0 28H44V19H100V28H132',
	example: 'one-shot 2 ms after 1 ms',
	wish: ({ width, delay }) => `${width} after ${delay}`,
	sentence(aim, plan) {
		const { part } = plan;
		const timer = timerOf(aim, plan);
		return [
			'On a',
			choice('edge', 'Edge', aim.edge, [
				['rise', 'rise'],
				['fall', 'fall']
			]),
			'of',
			timerChoice(aim, plan),
			choice(
				'input',
				'Trigger input',
				aim.input,
				(timer?.inputs ?? []).filter((i) => i.actions.includes('start')).map((i) => [i.id, placeText(part, timer!, i.id, i.name)])
			),
			'wait',
			field('delay', 'Delay'),
			', then',
			choice('each', 'What a shot does', aim.each, [
				['pulse', 'pulse'],
				['toggle', 'turn']
			]),
			NAME,
			'on',
			channelChoice(aim, plan),
			aim.each === 'pulse' ? 'for' : 'and stay deaf for',
			field('width', 'Width'),
			'±',
			field('tolerance', 'Tolerance'),
			', further edges',
			choice('retrigger', 'Further edges', aim.retrigger, [
				['ignore', 'ignored'],
				['restart', 'restart it']
			]),
			'; the trigger bounces for',
			field('bounce', 'Time of bouncing', 3),
			'.'
		];
	}
};
