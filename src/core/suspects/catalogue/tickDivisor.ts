import type { Mistake } from '../change.js';
import { scaled } from './onRate.js';

/** The divisor in front of the counter. */
export const tickDivisor: Mistake = {
	code: 'tick-divisor-wrong',
	usual: 24,
	of: (group) => [2, 4, 8, 12].flatMap((by) => [scaled(group, by, String(by)), scaled(group, 1 / by, `1/${by}`)])
};
