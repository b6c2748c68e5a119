import { eachEdge, SeriesBuilder, type CardScene, type Series } from './series.js';

/** Edges of which each comes no later than the limit behind the one before, as one group each. */
function eachGroup({ trace, window, limit }: CardScene, visit: (first: number, last: number, edges: number, rises: number) => void): void {
	let [first, last, edges, rises] = [0, 0, 0, 0];
	eachEdge(trace, window, (time, level, before) => {
		if (edges > 0 && time - last > limit) {
			visit(first, last, edges, rises);
			edges = rises = 0;
		}
		if (edges === 0) first = time;
		last = time;
		edges++;
		if (level === 1 && before === 0) rises++;
	});
	if (edges > 0) visit(first, last, edges, rises);
}

/** Pulses of each burst: bursts are parted by pauses over the limit. */
export function burstSeries(scene: CardScene): Series {
	const series = new SeriesBuilder('count');
	eachGroup(scene, (first, _, __, rises) => series.add(first, rises));
	return series.finish();
}

/** How long contacts bounce: from the first to the last edge of each group of more than one. */
export function bounceSeries(scene: CardScene): Series {
	const series = new SeriesBuilder('time');
	eachGroup(scene, (first, last, edges) => {
		if (edges > 1) series.add(first, last - first);
	});
	return series.finish();
}
