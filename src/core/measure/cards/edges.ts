import { eachEdge, SeriesBuilder, type CardScene, type Series } from './series.js';

/** Every edge: from one to the next. */
export function edgeSeries({ trace, window }: CardScene): Series {
	const series = new SeriesBuilder('time');
	let before: number | undefined;
	eachEdge(trace, window, (time) => {
		if (before !== undefined) series.add(before, time - before);
		before = time;
	});
	return series.finish();
}
