import { ppmError, Rational, type Hertz, type Ppm, type Seconds } from '../../exact/index.js';
import { routesTo, stagesFor, type TimerProfile } from '../../part/index.js';
import { ratioTable, type PeriodCandidate, type PeriodWish } from '../../solve/index.js';
import { largest, periodGrid, periodTicks, updateRate, type Counting } from '../../timer/index.js';
import type { AimContext } from './context.js';
import { nearestPeriod, overruledLinks } from './nearest.js';
import type { LinkName, ReachBy, StripLink, TimerUse } from './derivation.js';
import type { DerivationDraft } from './draft.js';

/** What a period is chosen by, besides the wish. */
export interface PeriodChoice {
	/** Periods an event: 2 for a toggled clock, whose rate is half that of the periods; a half where a period has two events. */
	share?: Rational;
	/** Ticks that a period should have, if one of so many lies within the tolerance. */
	leastTicks?: number | undefined;
	/** Says that the rate is off; left out: as checkOff does. */
	onOff?: (best: PeriodCandidate, tolerance: Ppm) => void;
}

/**
 * The nearest of all settings to a wished event rate, around what is held, or what the timer's first aim has decided. Says
 * what is out of reach or off. undefined where a held link leaves nothing, or the search has nothing to offer.
 */
export function choosePeriod(
	draft: DerivationDraft,
	counting: Counting,
	wish: Hertz,
	tolerance: Ppm | undefined,
	{ share = Rational.one, leastTicks, onOff }: PeriodChoice = {}
): PeriodCandidate | undefined {
	const { derivation } = draft;
	const { kernel, aim } = derivation;
	const mover = draft.context.periodMover(aim.timer);
	if (mover && mover.id !== aim.id) {
		draft.fault({ code: 'period-moves', timer: derivation.timer!.name, other: mover.name });
		return undefined;
	}
	const periods = wish.mul(share);
	const asked = { kernel: kernel!, counting, wish: periods };
	const { owner } = draft.context;
	const fine = leastTicks === undefined ? undefined : { leastTicks, tolerance };
	const best = owner ? adopted(draft, counting, owner, periods) : searched(draft, asked, fine);
	draft.wish('rate', { value: wish, ...(tolerance && { ppm: tolerance }) });
	derivation.tradeoff = { counting, kernel: kernel!, wish: periods, ...(tolerance && { tolerance }) };
	if (!best) return undefined;
	derivation.tradeoff.now = best;
	derivation.use = owner ?? { aim, kind: 'period', counting, prescale: best.prescale, reload: best.reload };
	if (owner) derivation.sharedWith = owner.aim;
	if (tolerance && best.ppm.abs().compare(tolerance) > 0) {
		if (onOff) onOff(best, tolerance);
		else checkOff(draft, counting, wish, tolerance, best, share);
	}
	return best;
}

function searched(
	draft: DerivationDraft,
	asked: PeriodWish,
	fine: { leastTicks: number; tolerance: Ppm | undefined } | undefined
): PeriodCandidate | undefined {
	const { timer } = draft.derivation;
	const { mode, rule } = asked.counting;
	const prescale = draft.heldPrescale();
	const reload = draft.held('reload', 0, largest(timer!.width), timer!.width);
	const blocked = reload === 0 && (rule === 'inclusive' || mode === 'updown');
	if (blocked) draft.fault({ code: 'reload-blocks' });
	return blocked || prescale === null || reload === null ? undefined : nearestPeriod(asked, timer!.prescaler, { prescale, reload }, fine);
}

/** What the timer's first aim has decided, seen against this wish. */
function adopted(draft: DerivationDraft, counting: Counting, owner: TimerUse, wish: Hertz): PeriodCandidate | undefined {
	const { aim, timer, kernel } = draft.derivation;
	if (owner.kind !== 'period' || !owner.counting || owner.reload === undefined) {
		draft.fault({ code: 'timer-taken', timer: timer!.name, other: owner.aim.name });
		return undefined;
	}
	if (owner.counting.mode !== counting.mode) {
		draft.fault({ code: 'mode-clash', timer: timer!.name, other: owner.aim.name });
		return undefined;
	}
	const overruled = overruledLinks(aim.locks, { prescale: owner.prescale, reload: owner.reload });
	if (overruled.length > 0) draft.warn({ code: 'lock-overruled', links: overruled, other: owner.aim.name });
	const ticks = periodTicks(counting, owner.reload);
	if (ticks === null) return undefined;
	const hz = updateRate(kernel!, owner.prescale, ticks);
	return { prescale: owner.prescale, reload: owner.reload, ticks, hz, ppm: ppmError(hz, wish) };
}

/** Why a rate is off: another aim's, held links, out of reach, or between two settings. */
function checkOff(draft: DerivationDraft, counting: Counting, wish: Hertz, tolerance: Ppm, best: PeriodCandidate, share: Rational): void {
	const { derivation, context } = draft;
	const { timer, kernel } = derivation;
	const seconds = best.hz.inverse().mul(share);
	if (toldDecided(draft, seconds.inverse(), wish)) return;
	const { step, uMin, uMax } = periodGrid(counting);
	const { ratios } = ratioTable(timer!.prescaler);
	const time = (ratio: number, u: number) =>
		Rational.int(ratio)
			.mul(Rational.int(step * u))
			.mul(share)
			.div(kernel!);
	const [shortest, longest] = [time(ratios[0], uMin), time(ratios[ratios.length - 1], uMax)];
	const period = wish.inverse();
	if (period.compare(longest) > 0)
		draft.fault({ code: 'time-too-long', wish: period, longest, reach: reachOf(context, timer!, period, longest) });
	else if (period.compare(shortest) < 0) draft.fault({ code: 'time-too-short', wish: period, shortest });
	else draft.fault({ code: 'time-outside', ppm: ppmError(seconds.inverse(), wish), tolerance, seconds, wish: period });
}

/** Says of a rate that is off that another aim or held links decide it; false where neither does. */
export function toldDecided(draft: DerivationDraft, got: Hertz, wish: Hertz): boolean {
	const { owner } = draft.context;
	if (owner) {
		draft.fault({ code: 'reload-shared', other: owner.aim.name, hz: got, wish });
		return true;
	}
	const links = (['prescale', 'reload'] as const).filter((link) => Object.hasOwn(draft.derivation.aim.locks, link));
	if (links.length > 0) draft.fault({ code: 'locks-conflict', links, got, wish, unit: 'Hz' });
	return links.length > 0;
}

/** What would reach a time that is longer than the timer's longest: a larger timer that no aim uses, one more in a row, or a count in software. */
export function reachOf({ part, openRate, aims }: AimContext, timer: TimerProfile, wish: Seconds, longest: Seconds): ReachBy[] {
	const reach: ReachBy[] = [];
	const wider = part.timers.find((one) => {
		// The timers that no aim uses yet count, too: their gates would be opened.
		const kernel = openRate(one.kernel);
		const { ratios } = ratioTable(one.prescaler);
		return (
			one !== timer &&
			one.modes.some((mode) => timer.modes.includes(mode)) &&
			!aims.some((aim) => aim.timer === one.id) &&
			kernel &&
			Rational.int(ratios[ratios.length - 1])
				.mul(Rational.int(2 ** one.width))
				.div(kernel)
				.compare(wish) >= 0
		);
	});
	if (wider) reach.push({ by: 'timer', timer: wider.name });
	const second = part.timers.find(
		(one) =>
			(one.inputs ?? []).some((input) => input.actions.includes('clock')) &&
			routesTo(part, one.id).some(({ from }) => from.timer === timer.id && from.sources.includes('update'))
	);
	if (second) reach.push({ by: 'cascade', timer: second.name });
	const count = -wish.div(longest).neg().floor();
	if (count < 2n ** 32n) reach.push({ by: 'software', count: Number(count) });
	return reach;
}

/** The prescaler's link of the strip. */
export function prescaleLink(timer: TimerProfile, prescale: number): StripLink {
	const stages = stagesFor(timer.prescaler, prescale) ?? [];
	const [{ code, width }] = stages.length === 1 ? stages : [{ code: null, width: 0 }];
	return {
		name: 'prescale',
		value: prescale,
		holds: true,
		...(code !== null && { register: { value: code, width } }),
		...(stages.length > 1 && { stages })
	};
}

/** A link of the counter's width that can be held. */
export function counterLink(timer: TimerProfile, name: LinkName, value: number): StripLink {
	return { name, value, holds: true, register: { value, width: timer.width } };
}

/** Prescale and reload of a chosen period. */
export function periodLinks(timer: TimerProfile, { prescale, reload }: { prescale: number; reload: number }): StripLink[] {
	return [prescaleLink(timer, prescale), counterLink(timer, 'reload', reload)];
}
