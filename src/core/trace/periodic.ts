import type { Seconds } from '../exact/index.js';
import { lowerBound, type Level, type LevelSource } from './trace.js';

/** A wave that repeats for ever in both directions and is never materialised. Edge 0 is the first at a time >= 0. */
export class PeriodicWave implements LevelSource {
	/**
	 * `period` in units; `offsets` ascending in 0..period-1 with the level from each on, each differing from the one
	 * before it around the period. Without offsets the level is `steady`. Throws RangeError on anything else.
	 */
	constructor(
		readonly unit: Seconds,
		readonly period: number,
		private readonly offsets: readonly number[],
		private readonly levels: readonly Level[],
		private readonly steady: Level
	) {
		const ascending = offsets.every((t, i) => Number.isSafeInteger(t) && t < period && t > (i > 0 ? offsets[i - 1] : -1));
		const changing = levels.every((level, i) => level !== levels[(i + levels.length - 1) % levels.length]);
		if (!ascending || !changing || offsets.length !== levels.length || !(period >= 1))
			throw new RangeError(`no wave of period ${period} with edges at ${offsets.join(', ')}`);
	}

	edgesBefore(t: number): number {
		const turns = Math.floor(t / this.period);
		return turns * this.offsets.length + lowerBound(this.offsets, this.offsets.length, t - turns * this.period);
	}

	levelAfter(edges: number): Level {
		const count = this.levels.length;
		return count === 0 ? this.steady : this.levels[(((edges - 1) % count) + count) % count];
	}

	edgeTime(index: number): number {
		const count = this.offsets.length;
		if (count === 0) throw new RangeError('a steady level has no edges');
		const turns = Math.floor(index / count);
		return turns * this.period + this.offsets[index - turns * count];
	}
}
