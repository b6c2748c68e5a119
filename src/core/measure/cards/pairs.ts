import { lowerBound } from '../../trace/index.js';
import { eachDelay, eachGap } from '../relation.js';
import { eachEdge, eachPulse, SeriesBuilder, type CardScene, type Series } from './series.js';

/** From each rise of the other line to the first rise of this one, in that period of the other. */
function delays({ trace, other, window }: CardScene, kind: 'time' | 'degrees'): Series {
	const series = new SeriesBuilder(kind);
	eachDelay(trace, other!, window, (from, found, next) => series.add(from, found - from, next - from));
	return series.finish();
}

export const delaySeries = (scene: CardScene): Series => delays(scene, 'time');
export const phaseSeries = (scene: CardScene): Series => delays(scene, 'degrees');

/** From each fall of this line to the rise of the other. */
export function gapSeries({ trace, other, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachGap(trace, other!, window, (fall, rise) => series.add(fall, rise - fall));
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

/** From each edge of this line to the first edge of the other behind it, where that comes within the limit. */
export function answerSeries({ trace, other, window, limit }: CardScene): Series {
	const series = new SeriesBuilder('time');
	const answers: number[] = [];
	eachEdge(other!, window, (time, level, before) => {
		if (level !== 2 && before !== 2) answers.push(time);
	});
	eachEdge(trace, window, (time, level, before) => {
		if (level === 2 || before === 2) return;
		const next = answers[lowerBound(answers, answers.length, time)];
		if (next !== undefined && next - time <= limit) series.add(time, next - time);
	});
	return series.finish();
}
