import { Rational, type Hertz } from '../../../core/exact/index.js';
import type { PlanDerivation } from '../../../core/plan/index.js';

/** Ticks and periods a second of an aim, as far as it has them: what cursors and ruler are told in. */
export function rhythmOf({ aims, jobs }: PlanDerivation, id: string | undefined): { tickRate: Hertz | undefined; hz: Hertz | undefined } {
	const pulse = aims.find(({ aim }) => aim.id === id);
	if (pulse) return { tickRate: pulse.settings?.tickRate, hz: pulse.settings?.hz };
	const job = jobs.find(({ aim }) => aim.id === id);
	if (!job?.kernel || !job.use) return { tickRate: undefined, hz: undefined };
	const rate = job.figures.find(({ name, unit }) => unit === 'Hz' && ['rate', 'carrier', 'pace'].includes(name))?.value;
	const interval = job.run.interval?.seconds.inverse();
	return { tickRate: job.kernel.div(Rational.int(job.use.prescale)), hz: rate ?? interval };
}
