import type { Mistake } from '../change.js';
import { onRate } from './onRate.js';

/** No setting of the clock tree was made at all. */
export const clockAtReset: Mistake = {
	code: 'clock-at-reset',
	usual: 7,
	of: (group, scene) => onRate(group, scene, {}, { shared: 'reset', what: 'clock', planned: 'as set', found: 'as at reset' })
};
