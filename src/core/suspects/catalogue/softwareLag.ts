import type { SimTimer } from '../../sim/index.js';
import { type Changed, type Mistake, withTimer } from '../change.js';
import type { Group } from '../scene.js';

/** Software that loads or clears the counter comes later than was counted on. */
export function softwareLag(code: string, mode: 'preload' | 'clear', usual: number): Mistake {
	return {
		code,
		usual,
		of: (group) =>
			group.system.timers
				.filter((timer) => timer.mode === mode)
				.flatMap((timer): Changed[] => {
					const planned = timer.late ?? 0;
					return lagsOf(group, timer).map((late) => ({
						where: { timer: timer.id, what: 'late', planned, found: late },
						system: withTimer(group.system, timer.id, { late })
					}));
				})
	};
}

/** Ticks of lag that would give what was measured, and none at all. */
function lagsOf(group: Group, timer: SimTimer): number[] {
	const tick = timer.kernel * timer.prescale * group.seconds;
	const planned = timer.late ?? 0;
	const whole = timer.mode === 'preload' ? 2 ** timer.width - timer.preload : timer.reload + 1;
	const found = group.lines.flatMap(({ seen }) => (seen.measures.period ? [seen.measures.period.mean.toNumber() / tick] : []));
	// A pin that turns at every event shows two of them in a period.
	const wanted = found.flatMap((ticks) => [Math.round(ticks) - whole, Math.round(ticks / 2) - whole]);
	return [...new Set([...wanted, 0])].filter((late) => late >= 0 && late !== planned && late < 2 ** timer.width);
}
