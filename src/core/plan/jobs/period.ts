import { ppmError, Rational, type Hertz, type Ppm } from '../../exact/index.js';
import { prescaleCode, type TimerProfile } from '../../part/index.js';
import { ratioTable, topPeriods, type PeriodCandidate } from '../../solve/index.js';
import { periodGrid, type Counting } from '../../timer/index.js';
import type { JobBench, StripLink } from './job.js';

/**
 * The nearest of all settings to a wished event rate. Says what is out of reach or off, of a wish of `share` events each
 * (2 for a toggled clock: its rate is half the event rate). undefined only where the search has nothing to offer.
 */
export function choosePeriod(
	bench: JobBench,
	counting: Counting,
	wish: Hertz,
	tolerance: Ppm | undefined,
	share = 1
): PeriodCandidate | undefined {
	const { timer, kernel } = bench.derivation;
	const table = ratioTable(timer!.prescaler);
	const events = wish.mul(Rational.int(share));
	const best = topPeriods({ kernel: kernel!, counting, wish: events }, table, { keep: 1 }).best[0];
	if (!best || (tolerance && best.ppm.abs().compare(tolerance) <= 0)) return best;
	const { step, uMin, uMax } = periodGrid(counting);
	const time = (ratio: number, u: number) =>
		Rational.int(ratio)
			.mul(Rational.int(step * u * share))
			.div(kernel!);
	const [shortest, longest] = [time(table.ratios[0], uMin), time(table.ratios[table.ratios.length - 1], uMax)];
	const period = wish.inverse();
	const seconds = best.hz.inverse().mul(Rational.int(share));
	if (period.compare(longest) > 0) bench.say({ code: 'time-too-long', severity: 'fault', wish: period, longest });
	else if (period.compare(shortest) < 0) bench.say({ code: 'time-too-short', severity: 'fault', wish: period, shortest });
	else if (tolerance)
		bench.say({ code: 'time-outside', severity: 'fault', ppm: ppmError(seconds, period), tolerance, seconds, wish: period });
	return best;
}

/** The prescaler's link of the strip. */
export function prescaleLink(timer: TimerProfile, prescale: number): StripLink {
	const code = prescaleCode(timer.prescaler, prescale);
	return { name: 'prescale', value: prescale, ...(typeof code === 'number' && { register: { value: code, width: 16 } }) };
}
