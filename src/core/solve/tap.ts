import { Rational, type Hertz } from '../exact/index.js';

export interface TapChoice {
	prescale: number;
	bit: number;
	hz: Hertz;
}

/** The prescale and the tapped bit whose rate f_k / (P x 2^(b+1)) is nearest to the wish; ties take the smaller prescale, then the smaller bit. `ratios` and bits lo..hi are not empty. */
export function nearestTap(kernel: Hertz, ratios: Iterable<number>, [lo, hi]: readonly [number, number], wish: Hertz): TapChoice {
	let best: (TapChoice & { off: Rational }) | undefined;
	for (const prescale of [...ratios].sort((a, b) => a - b)) {
		for (let bit = lo; bit <= hi; bit++) {
			const hz = kernel.div(Rational.int(prescale * 2 ** (bit + 1)));
			const off = hz.sub(wish).abs();
			if (!best || off.compare(best.off) < 0) best = { prescale, bit, hz, off };
		}
	}
	if (!best) throw new RangeError('no prescale and no bit to choose from');
	return { prescale: best.prescale, bit: best.bit, hz: best.hz };
}
