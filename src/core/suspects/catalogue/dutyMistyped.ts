import { Rational } from '../../exact/index.js';
import type { Mistake } from '../change.js';
import { compareFor, compared, pulses } from './pulses.js';

/** Another whole percent than was wished, as the pin shows it: a digit mistyped, or worked out by hand. */
export const dutyMistyped: Mistake = {
	code: 'duty-mistyped',
	usual: 60,
	of: (group) =>
		pulses(group).flatMap((at) => {
			const own = group.lines.filter(({ seen }) => seen.witness.aim === at.one.aim.id);
			const shares = own.flatMap(({ seen: { measures, reading } }) => {
				const duty = reading?.of === 'duty' ? reading.value : measures.duty?.mean.toNumber();
				return duty === undefined ? [] : [Math.round(100 * (at.pulse.activeLow ? 1 - duty : duty))];
			});
			return [...new Set(shares)].flatMap((percent) => {
				const compare = compareFor(at.pulse, Rational.ratio(percent, 100).mul(Rational.int(at.pulse.ticks)));
				return compared(group, at, compare).map((one) => ({ ...one, where: { ...one.where, found: `${compare} (${percent} %)` } }));
			});
		})
};
