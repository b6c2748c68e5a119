import { periodTicks } from '../../timer/index.js';
import { type Changed, type Mistake, rewritten } from '../change.js';

/** The tick rate, and not the pulse rate, was made what was wished. */
export const tickRate: Mistake = {
	code: 'tick-rate-taken',
	usual: 29,
	of: (group) =>
		group.aims.flatMap(({ pulse, timer, strip, run }): Changed[] => {
			const sim = group.system.timers.find(({ id }) => id === timer?.id);
			if (!sim) return [];
			const ticks = pulse
				? periodTicks(pulse.counting, pulse.reload)
				: run.counted
					? strip.find(({ name }) => name === 'factors')?.value
					: undefined;
			if (!ticks) return [];
			const times = (factor: number): Changed[] => {
				const next = rewritten(group.system, sim, { name: 'prescale' }, (value) => Math.round(value * factor));
				return next
					? [{ where: { timer: sim.id, what: 'prescale', planned: sim.prescale, found: sim.prescale * factor }, system: next }]
					: [];
			};
			return times(ticks);
		})
};
