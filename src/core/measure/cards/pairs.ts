import { lowerBound } from '../../trace/index.js';
import { fallsIn, risesIn } from '../pulse.js';
import { eachPulse, SeriesBuilder, type CardScene, type Series } from './series.js';

/** Delay and phase: from each rise of the other line to the first rise of this one at or after it, before the other rises again. */
function relation({ trace, other, window }: CardScene, kind: 'time' | 'degrees'): Series {
	const series = new SeriesBuilder(kind);
	const marks = risesIn(other!, window);
	const rises = risesIn(trace, window);
	for (let i = 0; i + 1 < marks.length; i++) {
		const found = rises[lowerBound(rises, rises.length, marks[i])];
		if (found !== undefined && found < marks[i + 1]) series.add(marks[i], found - marks[i], marks[i + 1] - marks[i]);
	}
	return series.finish();
}

export const delaySeries = (scene: CardScene): Series => relation(scene, 'time');
export const phaseSeries = (scene: CardScene): Series => relation(scene, 'degrees');

/** From each fall of this line to the rise of the other that follows, if this one does not rise again before (timers.md 11). */
export function gapSeries({ trace, other, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	const rises = risesIn(other!, window);
	const again = risesIn(trace, window);
	for (const fall of fallsIn(trace, window)) {
		const found = rises[lowerBound(rises, rises.length, fall)];
		const next = again[lowerBound(again, again.length, fall)];
		if (found !== undefined && !(next !== undefined && found >= next)) series.add(fall, found - fall);
	}
	return series.finish();
}

/** Stretches in which both lines are high. */
export function overlapSeries({ trace, other, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	const highs: [number, number][] = [];
	eachPulse(other!, window, (from, to, level) => {
		if (level === 1) highs.push([from, to]);
	});
	const starts = highs.map(([from]) => from);
	eachPulse(trace, window, (from, to, level) => {
		if (level !== 1) return;
		for (let i = Math.max(0, lowerBound(starts, starts.length, from) - 1); i < highs.length && highs[i][0] < to; i++) {
			const [a, b] = [Math.max(from, highs[i][0]), Math.min(to, highs[i][1])];
			if (b > a) series.add(a, b - a);
		}
	});
	return series.finish();
}
