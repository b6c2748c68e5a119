import { type AimOf, kindOf } from '../../../../../core/aims/index.js';
import { choice, field, filters, NAME } from '../../../../components/tokens.js';
import { timerChoice, timerOf } from '../choices.js';
import type { AimView } from '../view.js';
import { words } from './words.js';

export const encoderView: AimView<AimOf<'encoder'>> = {
	...words,
	sketch: 'M0 13V4H22V13H44V4H66V13H88V4H110V13H132M0 28H11V19H33V28H55V19H77V28H99V19H121V28H132',
	example: 'encoder 0..71',
	wish: ({ range, cycles }) => `${range} of ${cycles} cycles`,
	sentence(aim, plan) {
		const timer = timerOf(aim, plan);
		return [
			'Count',
			NAME,
			'with',
			timerChoice(aim, plan),
			',',
			field('cycles', 'Cycles a turn'),
			'cycles a turn, each edge of',
			choice(
				'times',
				'Edges counted',
				aim.times,
				(timer?.encoder?.times ?? [4]).map((t) => [String(t), t === 4 ? 'A and B (× 4)' : t === 2 ? 'A (× 2)' : 'A, B low (× 1)'])
			),
			'over',
			field('range', 'Range'),
			', ends',
			choice('ends', 'Ends of the range', aim.ends, [
				['wrap', 'wrap'],
				['clamp', 'clamp']
			]),
			', filter',
			filters(aim.filter, timer?.encoder?.filters),
			', up to',
			field('speed', 'Greatest speed'),
			', beginning at',
			field('start', 'Count at first', 2),
			', driving',
			choice('drives', 'What the count drives', aim.drives, [
				['', 'nothing'],
				...plan.aims
					.filter((one) => kindOf(one).compareCanChange && one.id !== aim.id)
					.map(({ id, name }): [string, string] => [id, `the duty of ${name || 'an aim'}`])
			]),
			aim.drives === '' ? ', standing for' : ', from',
			field('low', 'Value of the first count', 3),
			'to',
			field('high', 'Value of the last count', 3),
			'.'
		];
	}
};
