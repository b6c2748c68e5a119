import type { Ppm } from '../../exact/index.js';
import type { Prescaler } from '../../part/index.js';
import { ratioTable, tableOf, topPeriods, type PeriodCandidate, type PeriodWish } from '../../solve/index.js';
import { readWhole } from './fields.js';

/** The best pair around what is held. `fine`: one of so many ticks is taken if it lies within the tolerance, so that what is short is otherwise said of the nearest setting there is. */
export function nearestPeriod(
	asked: PeriodWish,
	prescaler: Prescaler,
	held: { prescale?: number | undefined; reload?: number | undefined },
	fine?: { leastTicks: number; tolerance: Ppm | undefined }
): PeriodCandidate | undefined {
	const { prescale, reload } = held;
	const table = prescale === undefined ? ratioTable(prescaler) : tableOf(Float64Array.of(prescale));
	if (reload !== undefined) return topPeriods(asked, table, { keep: 1, reload }).best[0];
	const [found] = fine ? topPeriods(asked, table, { keep: 1, leastTicks: fine.leastTicks }).best : [];
	if (found && (!fine?.tolerance || found.ppm.abs().compare(fine.tolerance) <= 0)) return found;
	return topPeriods(asked, table, { keep: 1 }).best[0];
}

/** What an aim holds otherwise than the aim that decides for its timer. */
export function overruledLinks(
	locks: { readonly prescale?: string | undefined; readonly reload?: string | undefined },
	decided: { prescale: number; reload: number }
): ('prescale' | 'reload')[] {
	return (['prescale', 'reload'] as const).filter((link) => {
		const text = locks[link];
		const read = text === undefined ? undefined : readWhole(text, 0);
		return read !== undefined && !(read.ok && read.value === decided[link]);
	});
}
