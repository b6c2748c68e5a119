import { Rational, type Hertz, type Ppm, type Seconds } from '../../exact/index.js';
import { ratioTable, type PeriodCandidate } from '../../solve/index.js';
import { largest, nearestActive, periodGrid, type Counting } from '../../timer/index.js';
import type { AimContext } from '../common/context.js';
import type { AimDerivation, ComparisonRow, Unit } from '../common/derivation.js';
import { DerivationDraft } from '../common/draft.js';
import { readBits, readDuty, readTime, readTolerance, wantedTicks, type DutyWish } from '../common/fields.js';
import { choosePeriod, counterLink, periodLinks, reachOf, toldDecided } from '../common/period.js';
import { pulseOn } from '../common/places.js';
import { pulseSetting, type PulseSetting } from '../common/pulse.js';
import { checkDuty, checkSweep, checkWrites } from './checks.js';
import type { PwmAim } from './schema.js';

/** What the aim wishes, read. */
interface PwmWish {
	hz: Hertz;
	duty: DutyWish;
	tolerance: Ppm;
	bits: number | undefined;
}

/** Steady pulses (timers.md 5, 10): period and compare around what is held or what another aim has decided, start value and sweep. */
export function derivePwm(aim: PwmAim, context: AimContext): AimDerivation<PwmAim> {
	const draft = new DerivationDraft(aim, context);
	const { derivation } = draft;
	const hz = draft.rate('rate', aim.rate);
	const tolerance = draft.take('tolerance', readTolerance(aim.tolerance, hz));
	const duty = draft.take('duty', readDuty(aim.duty));
	const bits = draft.take('bits', readBits(aim.bits));
	const begin = aim.begin.trim() === '' ? undefined : draft.take('begin', readDuty(aim.begin));
	const sweep = aim.sweep.trim() === '' ? undefined : draft.take('sweep', readDuty(aim.sweep));
	const over = aim.sweep.trim() === '' ? undefined : draft.take('over', readTime(aim.over));
	const { timer, kernel } = derivation;
	if (!timer) return derivation;
	const channel = timer.channels.find((one) => one.id === aim.channel);
	if (!channel) draft.fault({ code: 'channel-missing', timer: timer.name, channel: aim.channel });
	const pulse = channel && pulseOn(timer, channel, aim);
	if (channel && !pulse)
		draft.fault({
			code: 'channel-no-pulse',
			timer: timer.name,
			channel: channel.name,
			open: aim.align === 'auto' && aim.output === 'auto'
		});
	if (!pulse) return derivation;
	if (kernel && hz && duty) {
		const wish = { hz, duty, tolerance: tolerance ?? Rational.zero, bits };
		const best = chooseRate(draft, pulse.counting, wish);
		const held = best && draft.held('compare', 0, largest(timer.width), timer.width);
		if (best && held !== null) {
			const set = pulseSetting(pulse, kernel, best, duty, { held, activeLow: aim.polarity === 'low' });
			derivation.pulse = set;
			const half = bits ? { absolute: Rational.ratio(1, 2 ** (bits + 1)) } : {};
			draft.wish('duty', { value: set.wantedTicks.div(Rational.int(set.ticks)), ...half });
			derivation.strip = [...periodLinks(timer, best), counterLink(timer, 'compare', set.compare)];
			tell(draft, set, wish, best);
			checkDuty(draft, set, bits);
			checkWrites(draft);
			addSweep(draft, set, { begin, sweep, over });
			return derivation;
		}
	}
	checkWrites(draft);
	return derivation;
}

function chooseRate(draft: DerivationDraft<PwmAim>, counting: Counting, { hz, tolerance, bits }: PwmWish): PeriodCandidate | undefined {
	const { timer } = draft.derivation;
	const leastTicks = bits !== undefined && bits <= timer!.width ? 2 ** bits : undefined;
	const best = choosePeriod(draft, counting, hz, tolerance, {
		leastTicks,
		onOff: (near) => checkRateOff(draft, counting, hz, tolerance, near)
	});
	if (draft.derivation.tradeoff && bits !== undefined) draft.derivation.tradeoff.bits = bits;
	return best;
}

/** Why a rate is off: another aim's, held links, out of reach, or between two settings. */
function checkRateOff(draft: DerivationDraft<PwmAim>, counting: Counting, wish: Hertz, tolerance: Ppm, { hz, ppm }: PeriodCandidate): void {
	if (toldDecided(draft, hz, wish)) return;
	const { timer, kernel } = draft.derivation;
	const { step, uMin, uMax } = periodGrid(counting);
	const { ratios } = ratioTable(timer!.prescaler);
	const lowest = kernel!.div(Rational.int(step * uMax).mul(Rational.int(ratios[ratios.length - 1])));
	const highest = kernel!.div(Rational.int(step * uMin).mul(Rational.int(ratios[0])));
	if (wish.compare(lowest) < 0) {
		const reach = reachOf(draft.context, timer!, wish.inverse(), lowest.inverse());
		draft.fault({ code: 'rate-too-slow', wish, lowest, reach });
	} else if (wish.compare(highest) > 0) draft.fault({ code: 'rate-too-fast', wish, highest });
	else draft.fault({ code: 'rate-outside', ppm, tolerance, hz, wish });
}

/** Figures, formulas, and the wishes beside what they come to. */
function tell(draft: DerivationDraft<PwmAim>, set: PulseSetting, { hz: wish, duty }: PwmWish, { ppm }: PeriodCandidate): void {
	const { derivation } = draft;
	const onTime = Rational.int(set.activeTicks).div(set.tickRate);
	draft.figure('rate', set.hz, 'Hz');
	draft.figure('error', ppm, 'ppm');
	draft.figure('duty', set.duty, '%');
	draft.figure('period', set.period, 's', true);
	draft.figure('on-time', onTime, 's', true);
	draft.figure('duty-error', set.dutyError, '%', true);
	draft.figure('tick', set.tickRate.inverse(), 's', true);
	draft.figure('duty-step', Rational.ratio(set.step, set.ticks), '%', true);
	const exact = set.tickRate.div(wish);
	const ticks = Rational.int(set.ticks);
	draft.formula('period', { kernel: derivation.kernel!, prescale: Rational.int(set.prescale), wish, exact, ticks });
	const { mode, rule } = set.counting;
	draft.formula(mode === 'updown' ? 'reload-updown' : `reload-${rule}`, { ticks, reload: Rational.int(set.reload) });
	draft.formula(`active-${duty.kind}`, {
		...(duty.kind === 'ratio' && { duty: duty.ratio }),
		...((duty.kind === 'on' || duty.kind === 'off') && { time: duty.seconds }),
		tickRate: set.tickRate,
		ticks,
		wanted: set.wantedTicks,
		active: Rational.int(set.activeTicks),
		compare: Rational.int(set.compare)
	});
	const row = (name: string, unit: Unit, wished: Rational, achieved: Rational, off: Rational, offUnit = unit): ComparisonRow => ({
		name,
		wished: { value: wished, unit },
		achieved: { value: achieved, unit },
		off: { value: off, unit: offUnit }
	});
	derivation.comparison = [
		row('rate', 'Hz', wish, set.hz, ppm, 'ppm'),
		row('whole-period', 's', wish.inverse(), set.period, set.period.sub(wish.inverse())),
		row('duty', '%', set.duty.sub(set.dutyError), set.duty, set.dutyError),
		row('on-time', 's', set.wantedTicks.div(set.tickRate), onTime, Rational.int(set.activeTicks).sub(set.wantedTicks), 'ticks'),
		{
			name: 'ends-give',
			achieved: { value: Rational.ratio(set.leastActive, set.ticks), unit: '%' },
			off: { value: Rational.ratio(set.mostActive, set.ticks), unit: '%' }
		}
	];
}

/** The start's compare, and the way of a sweep. */
function addSweep(
	draft: DerivationDraft<PwmAim>,
	set: PulseSetting,
	{ begin, sweep, over }: { begin: DutyWish | undefined; sweep: DutyWish | undefined; over: Seconds | undefined }
): void {
	const { derivation } = draft;
	const { width } = derivation.timer!;
	const pointOf = (duty: DutyWish) => nearestActive(set.counting, set.reload, set.rule, wantedTicks(duty, set.tickRate, set.ticks))!;
	const show = (name: string, { compare, duty }: ReturnType<typeof pointOf>, row: Omit<ComparisonRow, 'name' | 'achieved'>) => {
		derivation.comparison!.push({ name, achieved: { value: duty, unit: '%' }, ...row });
		(derivation.later ??= []).push({ name: `compare-${name}`, value: compare, width });
	};
	const first = begin && pointOf(begin);
	if (first) show('begin', first, { off: { value: Rational.int(first.compare), unit: 'compare' } });
	if (!sweep || !over) return;
	// It goes from where the pin begins, one compare after the other: each changes the active time by one step.
	const point = pointOf(sweep);
	const steps = Math.abs(point.activeTicks - (first?.activeTicks ?? set.activeTicks)) / set.step;
	const pace = steps === 0 ? over : over.div(Rational.int(steps));
	show('sweep', point, { wished: { value: Rational.int(steps), unit: 'steps' }, off: { value: pace, unit: 's' } });
	checkSweep(draft, steps);
}
