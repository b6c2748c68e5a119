import { describe, expect, test } from 'vitest';
import { Rational } from '../../core/exact/index.js';
import { applyStep, fernhollow } from '../../core/plan/index.js';
import { addListStep } from '../features/bench/changeSteps.js';
import { glitchFindings } from './glitchWatch.js';

describe('what is foreseen', () => {
	const plan = applyStep(fernhollow(), addListStep(fernhollow(), 'timer-d', 'Timer D'));
	test('glitches become one finding a row, of the plan’s own outcome only', () => {
		const glitch = (row: string, at: number) => ({
			aim: 'heater-a',
			channel: 'ch1',
			row,
			at,
			period: 72,
			on: 36,
			before: [72, 25] as [number, number],
			after: [72, 30] as [number, number]
		});
		const unit = Rational.ratio(1, 72_000_000);
		const found = glitchFindings(
			plan,
			[
				{ list: plan.changes[0].id, outcome: 'buffered', whatIf: false, glitches: [glitch('a', 720), glitch('a', 900), glitch('b', 1000)] },
				{ list: plan.changes[0].id, outcome: 'immediate', whatIf: true, glitches: [glitch('c', 1)] }
			],
			unit
		);
		expect(found.map((one) => one.code === 'glitch' && [one.change?.row, one.count, one.at.toString(), one.right.toString()])).toEqual([
			['a', 2, '1/100000', '1/2400000'],
			['b', 1, '1/72000', '1/2400000']
		]);
	});
});
