import { ppmError, Rational, type Hertz } from '../exact/index.js';
import type { LinkName, Tradeoff } from '../aims/index.js';
import { planClocks, type Plan } from '../plan/index.js';
import { largest, periodTicks, updateRate } from '../timer/index.js';
import { swapBytes } from './bytes.js';
import type { Finding } from './findings.js';

/** A held value that is off in a way that people know: one too many, its bytes the other way round, or worked out for another clock. */
export type HeldTrouble =
	| { code: 'held-off-by-one'; links: { link: LinkName; held: number; value: number }[] }
	| { code: 'held-bytes-swapped'; held: number; value: number }
	| { code: 'held-other-clock'; clock: 'reset' | 'doubled' | 'halved'; kernel: Hertz };

interface Held {
	aim: string;
	timer: string;
	locks: Readonly<Record<string, string | undefined>>;
	tradeoff: Tradeoff;
}

/** Looks for what would bring held values that are off within the tolerance; the first that does is told. */
export function heldFindings(plan: Plan, { aim, timer, locks, tradeoff }: Held): Finding[] {
	const { now, tolerance, counting, kernel, wish } = tradeoff;
	const holds = (link: 'prescale' | 'reload') => locks[link] !== undefined;
	if (!now || !tolerance || now.ppm.abs().compare(tolerance) <= 0 || (!holds('prescale') && !holds('reload'))) return [];
	const fits = (prescale: number, reload: number, clock = kernel) => {
		if (prescale < 1 || reload < 0 || reload > largest(counting.width)) return false;
		const ticks = periodTicks(counting, reload);
		return (
			ticks !== null &&
			ppmError(updateRate(clock, prescale, ticks), wish)
				.abs()
				.compare(tolerance) <= 0
		);
	};
	const { prescale, reload } = now;
	const found = (trouble: HeldTrouble): Finding[] => [{ severity: 'warning', aim, ...trouble }];
	const moves = holds('prescale') && holds('reload') ? BOTH : holds('reload') ? RELOAD : PRESCALE;
	for (const [dp, dr] of moves)
		if (fits(prescale + dp, reload + dr)) {
			const links: { link: LinkName; held: number; value: number }[] = [];
			if (dp !== 0) links.push({ link: 'prescale', held: prescale, value: prescale + dp });
			if (dr !== 0) links.push({ link: 'reload', held: reload, value: reload + dr });
			return found({ code: 'held-off-by-one', links });
		}
	const swapped = swapBytes(reload, counting.width);
	if (holds('reload') && swapped !== reload && fits(prescale, swapped))
		return found({ code: 'held-bytes-swapped', held: reload, value: swapped });
	const clock = otherClock(plan, timer, kernel, (at) => fits(prescale, reload, at));
	return clock ? found({ code: 'held-other-clock', ...clock }) : [];
}

/** Steps of prescale and reload, the plainest mistake first. */
const RELOAD = [
	[0, -1],
	[0, 1]
];
const PRESCALE = [
	[-1, 0],
	[1, 0]
];
const BOTH = [...RELOAD, ...PRESCALE, [1, -1], [1, 1], [-1, -1], [-1, 1]];

function otherClock(
	plan: Plan,
	timer: string,
	kernel: Hertz,
	fits: (kernel: Hertz) => boolean
): { clock: 'reset' | 'doubled' | 'halved'; kernel: Hertz } | undefined {
	const node = plan.part.timers.find(({ id }) => id === timer)?.kernel;
	const reset = node === undefined ? null : planClocks(plan, {}).rate(node);
	if (reset && !reset.equals(kernel) && fits(reset)) return { clock: 'reset', kernel: reset };
	const two = Rational.int(2);
	if (fits(kernel.mul(two))) return { clock: 'doubled', kernel: kernel.mul(two) };
	return fits(kernel.div(two)) ? { clock: 'halved', kernel: kernel.div(two) } : undefined;
}
