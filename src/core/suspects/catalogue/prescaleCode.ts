import { ratiosOf } from '../../part/index.js';
import { type Changed, type Mistake, rewritten, whereOf } from '../change.js';

/** The code next to the right one of a prescaler that has codes. */
export const prescaleCode: Mistake = {
	code: 'prescale-code-neighbour',
	usual: 6,
	of: ({ system, aims }) =>
		system.timers.flatMap((timer): Changed[] => {
			const profile = aims.find(({ timer: own }) => own?.id === timer.id)?.timer;
			if (!profile || profile.prescaler.kind === 'linear' || profile.prescaler.kind === 'fixed') return [];
			const ratios = [...ratiosOf(profile.prescaler)];
			const at = ratios.indexOf(timer.prescale);
			return [ratios[at - 1], ratios[at + 1]].flatMap((ratio): Changed[] => {
				if (at < 0 || ratio === undefined) return [];
				const next = rewritten(system, timer, { name: 'prescale' }, () => ratio);
				return next ? [{ where: whereOf(timer, { name: 'prescale' }, timer.prescale, ratio), system: next }] : [];
			});
		})
};
