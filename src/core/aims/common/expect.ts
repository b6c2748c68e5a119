import { MILLION, Rational } from '../../exact/index.js';
import type { AimDerivation, Unit, Wish } from './derivation.js';

/** A quantity that a pin should show, as a recording can be held against it (timers.md 13). */
export interface PlannedQuantity {
	/** `level`: the line stands still at 0 or 1. */
	of: 'frequency' | 'high' | 'duty' | 'level' | 'delay' | 'phase' | 'gap' | 'interval' | 'width';
	/** The role of the line: "pin", "main", "complementary", or an output's or line's own name. */
	line: string;
	/** The role of the line that a delay or phase is measured from; "leader" is another aim's pin, "first" that of the first of its chain. */
	against?: string;
	planned: Rational;
	unit: Unit;
	/** What was wished; left out where nothing was. */
	wish?: Rational;
	/** What the aim allows, in ppm or in the quantity's own unit. */
	ppm?: Rational;
	absolute?: Rational;
}

/** A wish and its allowance as a quantity has them. */
export function wishedAs(wish: Wish | undefined): Pick<PlannedQuantity, 'wish' | 'ppm' | 'absolute'> {
	if (!wish) return {};
	const { value, ppm, absolute } = wish;
	return { wish: value, ...(ppm && { ppm }), ...(absolute && { absolute }) };
}

/** Frequency, high width and duty of a pin that pulses steadily, or its level where it never moves. `line`: its role. */
export function steadyQuantities({ pulse, wishes }: AimDerivation, line = 'pin'): PlannedQuantity[] {
	if (!pulse) return [];
	const turn = (duty: Rational) => (pulse.activeLow ? Rational.one.sub(duty) : duty);
	const duty = turn(pulse.duty);
	if (duty.sign === 0 || duty.equals(Rational.one)) return [{ of: 'level', line, planned: duty, unit: '' }];
	const wished = wishes?.duty && { ...wishes.duty, value: turn(wishes.duty.value) };
	return pulsing(line, { rate: pulse.hz, duty }, { rate: wishes?.rate, duty: wished });
}

/** What pulses of a rate and duty show, with the wishes for both. */
export function pulsing(
	line: string,
	planned: { rate: Rational; duty: Rational },
	wished: { rate?: Wish | undefined; duty?: Wish | undefined }
): PlannedQuantity[] {
	return [
		{ of: 'frequency', line, planned: planned.rate, unit: 'Hz', ...wishedAs(wished.rate) },
		{ of: 'high', line, planned: planned.duty.div(planned.rate), unit: 's', ...wishedAs(widthWish(wished)) },
		{ of: 'duty', line, planned: planned.duty, unit: '%', ...wishedAs(wished.duty) }
	];
}

/** The width that wished rate and duty come to: it may be off by as much as both together make it. */
function widthWish({ rate, duty }: { rate?: Wish | undefined; duty?: Wish | undefined }): Wish | undefined {
	if (!rate || !duty) return undefined;
	const width = duty.value.div(rate.value);
	const byRate = width.mul(rate.ppm ?? Rational.zero).div(MILLION);
	const byDuty = (duty.absolute ?? duty.value.mul(duty.ppm ?? Rational.zero).div(MILLION)).div(rate.value);
	return { value: width, absolute: byRate.add(byDuty) };
}
