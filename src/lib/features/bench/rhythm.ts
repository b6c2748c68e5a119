import { Rational, type Hertz } from '../../../core/exact/index.js';
import type { PlanDerivation } from '../../../core/plan/index.js';

/** Ticks and periods a second of an aim, as far as it has them: what cursors and ruler are told in. */
export function rhythmOf({ aims }: PlanDerivation, id: string | undefined): { tickRate: Hertz | undefined; hz: Hertz | undefined } {
	const aim = aims.find((one) => one.aim.id === id);
	if (!aim?.kernel || !aim.use) return { tickRate: undefined, hz: undefined };
	const rate = aim.figures.find(({ name, unit }) => unit === 'Hz' && ['rate', 'carrier', 'pace'].includes(name))?.value;
	const interval = aim.run.interval?.seconds.inverse();
	return { tickRate: aim.kernel.div(Rational.int(aim.use.prescale)), hz: rate ?? interval };
}
