import { Rational, type Seconds } from '../../../core/exact/index.js';
import type { Replayed } from '../../../core/readings/index.js';
import type { WireReplay } from '../../../workers/predictWire.js';

/** What a reading is measured in; '' for counts. */
export function unitOf({ reads }: WireReplay): string {
	return reads.kind === 'span' ? 's' : reads.kind === 'position' ? '' : 'Hz';
}

/** Reading `i` as software works it out from its counts, exactly; 0 where it would divide by nothing. */
export function readingOf({ reads, tickRate, counts, over }: WireReplay, i: number): Rational {
	const count = Rational.int(counts[i]);
	const rate = Rational.parse(tickRate);
	switch (reads.kind) {
		case 'rate':
			return counts[i] === 0 ? Rational.zero : rate.mul(Rational.int(over![i])).div(count);
		case 'gated':
			return count.div(Rational.parse(reads.gate));
		case 'span':
			return count.div(rate);
		case 'position':
			return count;
	}
}

/** What really came, in the same unit. `unit`: seconds of a base cycle. */
export function truthOf({ reads, truth, came }: WireReplay, i: number, unit: Seconds): Rational {
	const real = Rational.int(truth[i]);
	switch (reads.kind) {
		case 'rate':
			return truth[i] === 0 ? Rational.zero : Rational.int(came![i]).div(real.mul(unit));
		case 'gated':
			return real.div(Rational.parse(reads.gate));
		case 'span':
			return real.mul(unit);
		case 'position':
			return real;
	}
}

/** Readings in doubles, with what a count more or less makes of each. */
export function replayedOf(replay: WireReplay): Omit<Replayed, 'clock'> {
	const { counts, reads, tickRate } = replay;
	const values = Float64Array.from(counts, (_, i) => readingOf(replay, i).toNumber());
	const rate = Rational.parse(tickRate).toNumber();
	const grain = Float64Array.from(counts, (count, i) => {
		switch (reads.kind) {
			case 'rate':
				return count > 1 ? values[i] / (count - 1) : values[i];
			case 'gated':
				return 1 / Rational.parse(reads.gate).toNumber();
			case 'span':
				return 1 / rate;
			case 'position':
				return 1;
		}
	});
	return { counts, values, grain, unit: unitOf(replay) as Replayed['unit'] };
}
