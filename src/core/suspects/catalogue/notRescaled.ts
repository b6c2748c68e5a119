import { Rational } from '../../exact/index.js';
import type { Changed, Mistake } from '../change.js';
import type { Group } from '../scene.js';
import { compared, pulses } from './pulses.js';

/** The compare was worked out for another period: for the whole width, the reload of another timer, or percent for counts. */
export const notRescaled: Mistake = {
	code: 'compare-not-rescaled',
	usual: 23,
	of: (group, scene) => [
		...pulses(group).flatMap((at) => {
			const { pulse } = at;
			const share = pulse.wantedTicks.div(Rational.int(pulse.ticks));
			const wholes = [100, 128, 255, 256, 1000, 1023, 1024, 4096, 65_535, 65_536, ...scene.timers.map(({ reload }) => reload + 1)];
			return [...new Set(wholes)]
				.filter((whole) => whole !== pulse.ticks)
				.flatMap((whole) => compared(group, at, Number(share.mul(Rational.int(whole)).roundHalfUp())));
		}),
		...keptRows(group)
	]
};

/** Rows that set the period anew and leave the compare as it was. */
function keptRows({ system }: Group): Changed[] {
	return system.timers.flatMap((timer): Changed[] => {
		const moving = timer.sequences?.some(({ rows }) => rows.some(({ reload, prescale }) => reload !== undefined || prescale !== undefined));
		const writes = system.writes.some(({ timer: id, register }) => id === timer.id && register === 'reload');
		if (!moving && !writes) return [];
		const sequences = timer.sequences?.map((one) => ({
			...one,
			rows: one.rows.map((row, i) => (i === 0 ? row : { ...row, compare: {} }))
		}));
		const kept = system.writes.filter(({ timer: id, register }) => id !== timer.id || !register.startsWith('compare:'));
		const timers = system.timers.map((other) => (other === timer ? { ...timer, ...(sequences && { sequences }) } : other));
		return [
			{ where: { timer: timer.id, what: 'compare', planned: 'rescaled', found: 'kept' }, system: { ...system, timers, writes: kept } }
		];
	});
}
