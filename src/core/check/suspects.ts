import { Rational, type Hertz } from '../exact/index.js';
import { activeTicks, largest, periodTicks, type SteadyPwm } from '../timer/index.js';
import { waveOf, type AimDerivation } from '../aims/index.js';
import { planClocks, type Plan } from '../plan/index.js';
import { swapBytes } from './bytes.js';
import { inside } from './budget.js';
import type { QuantityVerdict, Verdict } from './verdict.js';

/** A mistake, and the rate and duty it would give. */
export interface Suspect {
	code:
		| 'prescale-one-more'
		| 'reload-one-more'
		| 'reload-one-less'
		| 'both-one-more'
		| 'clock-at-reset'
		| 'doubling-forgotten'
		| 'doubling-assumed'
		| 'centre-aligned'
		| 'toggled'
		| 'polarity'
		| 'reload-bytes-swapped'
		| 'compare-bytes-swapped'
		| 'compare-one-more'
		| 'compare-one-less';
	hz: Hertz;
	duty: Rational;
	/** The wave it would make, with its tick rate. */
	wave: SteadyPwm;
	tickRate: Hertz;
	/** Measured rate (ppm) and duty (difference) against these. */
	ratePpm: Rational;
	dutyOff: Rational;
}

type Guess = { code: Suspect['code']; wave: SteadyPwm; tickRate: Hertz };

/**
 * The mistakes that would explain what the registers as planned do not, the nearest first. Nothing when those explain it: then there
 * is no one to suspect.
 */
export function findSuspects(plan: Plan, derivation: AimDerivation, verdict: Verdict): Suspect[] {
	if (verdict.asSet !== 'outside' || !derivation.pulse) return [];
	const [rate, duty] = (['frequency', 'duty'] as const).map((name) => verdict.quantities.find(({ of }) => of === name));
	if (!rate || !duty) return [];
	// Around the value that a mistake would give, the same parts are open.
	const fits = ({ asSet: { budget, against } }: QuantityVerdict, off: Rational, value: Rational) =>
		inside(off.mul(against).div(value.sign === 0 ? Rational.one : value), budget, budget.aim);
	return guesses(plan, derivation)
		.flatMap((guess) => numbersOf(guess, rate.measured, duty.measured))
		.filter((s) => fits(rate, rate.measured.sub(s.hz), s.hz) && inside(s.dutyOff, duty.asSet.budget, duty.asSet.budget.aim))
		.sort((a, b) => a.ratePpm.abs().compare(b.ratePpm.abs()) || a.dutyOff.abs().compare(b.dutyOff.abs()) || (a.code < b.code ? -1 : 1));
}

function numbersOf(guess: Guess, rate: Hertz, duty: Rational): Suspect[] {
	const { wave, tickRate } = guess;
	const ticks = periodTicks(wave.counting, wave.reload);
	if (ticks === null) return [];
	const active = Rational.ratio(activeTicks(wave.counting, wave.reload, wave.output, wave.compare)!, ticks);
	const share = wave.inverted ? Rational.one.sub(active) : active;
	const hz = tickRate.div(Rational.int(ticks));
	const ratePpm = rate.sub(hz).div(hz).mul(Rational.int(1_000_000));
	return [{ ...guess, hz, duty: share, ratePpm, dutyOff: duty.sub(share) }];
}

function guesses(plan: Plan, { pulse, kernel, timer, clock }: AimDerivation): Guess[] {
	const { prescale, tickRate } = pulse!;
	const right = waveOf(pulse!);
	const top = largest(right.counting.width);
	const rate = (divisor: number) => kernel!.div(Rational.int(divisor));
	const list: Guess[] = [
		{ code: 'prescale-one-more', wave: right, tickRate: rate(prescale + 1) },
		{ code: 'polarity', wave: { ...right, inverted: !right.inverted }, tickRate }
	];
	const changed = (code: Suspect['code'], change: Partial<SteadyPwm>, at = tickRate) => {
		const next = { ...right, ...change };
		if (next.reload >= 1 && next.reload <= top && next.compare >= 0 && next.compare <= top) list.push({ code, wave: next, tickRate: at });
	};
	changed('reload-one-more', { reload: right.reload + 1 });
	changed('reload-one-less', { reload: right.reload - 1 });
	changed('both-one-more', { reload: right.reload + 1 }, rate(prescale + 1));
	changed('compare-one-more', { compare: right.compare + 1 });
	changed('compare-one-less', { compare: right.compare - 1 });
	const { width } = right.counting;
	if (width > 8) {
		changed('reload-bytes-swapped', { reload: swapBytes(right.reload, width) });
		changed('compare-bytes-swapped', { compare: swapBytes(right.compare, width) });
	}
	if (right.counting.mode !== 'updown' && right.output !== 'enter' && right.output !== 'leave')
		changed('centre-aligned', { counting: { ...right.counting, mode: 'updown' } });
	list.push({ code: 'toggled', ...toggled(right, tickRate) });
	const atReset = planClocks(plan, {}).rate(timer!.kernel);
	if (atReset && !atReset.equals(kernel!)) changed('clock-at-reset', {}, atReset.div(Rational.int(prescale)));
	const doubling = clock.find((link) => link.node.kind === 'follow');
	if (doubling?.factor?.equals(Rational.int(2))) changed('doubling-forgotten', {}, tickRate.mul(Rational.int(2)));
	else if (doubling?.factor?.equals(Rational.one)) changed('doubling-assumed', {}, tickRate.div(Rational.int(2)));
	return list;
}

/** A toggled pin changes once a period: half the rate, half of the time high. Shown as a wave of half the tick rate. */
function toggled(right: SteadyPwm, tickRate: Hertz): { wave: SteadyPwm; tickRate: Hertz } {
	const ticks = periodTicks(right.counting, right.reload)!;
	// Two ticks of one period each: up, inclusive, reload 1, compare 1.
	const wave: SteadyPwm = {
		counting: { mode: 'up', rule: 'inclusive', width: 16 },
		reload: 1,
		compare: 1,
		output: 'below',
		inverted: false
	};
	return { wave, tickRate: tickRate.div(Rational.int(ticks)) };
}
