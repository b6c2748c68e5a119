import { Rational, type Hertz, type Seconds } from '../../exact/index.js';
import { oneShotFor, wholeTicks, largest, type OneShot, type Rule } from '../../timer/index.js';

/** What a pulse after a trigger is made on. */
export interface ShotQuestion {
	kernel: Hertz;
	delay: Seconds;
	width: Seconds;
	/** Of the counter. */
	bits: number;
	rule: Rule;
	held: { compare?: number | undefined; reload?: number | undefined };
}

export interface Shot {
	prescale: number;
	made: OneShot;
	/** The larger of both relative errors, delay's and width's. */
	off: Rational;
}

/** Delay and width at a prescale, around what is held; undefined where the registers cannot be. */
export function shotAt({ kernel, delay, width, bits, rule, held }: ShotQuestion, prescale: number): Shot | undefined {
	const tickRate = kernel.div(Rational.int(prescale));
	const made =
		held.compare === undefined && held.reload === undefined
			? oneShotFor(delay, width, tickRate, bits, rule)
			: heldShot(wholeTicks(delay, tickRate).ticks, wholeTicks(width, tickRate).ticks, { bits, rule, held });
	if (!made) return undefined;
	const offOf = (ticks: number, wish: Seconds) => Rational.int(ticks).div(tickRate).sub(wish).div(wish).abs();
	const [one, two] = [offOf(made.delayTicks, delay), offOf(made.pulseTicks, width)];
	return { prescale, made, off: one.compare(two) >= 0 ? one : two };
}

function heldShot(delay: number, width: number, { bits, rule, held }: Pick<ShotQuestion, 'bits' | 'rule' | 'held'>): OneShot | undefined {
	const less = rule === 'inclusive' ? 1 : 0;
	const delayTicks = held.compare ?? delay;
	const reload = held.reload ?? delayTicks + width - less;
	const pulseTicks = reload + less - delayTicks;
	if (delayTicks < 1 || pulseTicks < 1 || reload > largest(bits)) return undefined;
	return { compare: delayTicks, reload, delayTicks, pulseTicks };
}

/** So many of the nearest, by plain numbers, are told apart exactly. */
const CLOSE = 64;

/** The prescale whose delay and width are nearest to the wish, the finest of equals; and all that meet both exactly. */
export function nearestShot(question: ShotQuestion, ratios: ArrayLike<number>): { best: Shot; exact: number[] } | undefined {
	const rough = roughErrors(question, ratios);
	const close = [...rough.keys()].filter((i) => rough[i] < Infinity).sort((a, b) => rough[a] - rough[b] || a - b);
	const shots = close.slice(0, CLOSE).flatMap((i) => shotAt(question, ratios[i]) ?? []);
	let best: Shot | undefined;
	for (const shot of shots) {
		const order = best ? shot.off.compare(best.off) : -1;
		if (order < 0 || (order === 0 && shot.prescale < best!.prescale)) best = shot;
	}
	const exact = shots.flatMap(({ off, prescale }) => (off.sign === 0 ? [prescale] : []));
	return best && { best, exact: exact.sort((a, b) => a - b) };
}

/** The larger relative error of each prescale in plain numbers, good to about 1e-12; Infinity where the counter is too short or the tick too long. */
function roughErrors({ kernel, delay, width, bits, held }: ShotQuestion, ratios: ArrayLike<number>): Float64Array {
	const [d, w] = [delay.mul(kernel).toNumber(), width.mul(kernel).toNumber()];
	const most = 2 ** bits + 1;
	const errors = new Float64Array(ratios.length);
	for (let i = 0; i < ratios.length; i++) {
		const p = ratios[i];
		const [delayTicks, widthTicks] = [held.compare ?? Math.round(d / p), Math.round(w / p)];
		// A held reload leaves the width what is left of it, to a tick.
		const real = held.reload === undefined ? widthTicks : held.reload + 1 - delayTicks;
		const fits = delayTicks >= 1 && real >= 1 && delayTicks + real <= most;
		errors[i] = fits ? Math.max(Math.abs((delayTicks * p) / d - 1), Math.abs((real * p) / w - 1)) : Infinity;
	}
	return errors;
}
