import { eachEdge, SeriesBuilder, type CardScene, type Series } from './series.js';

/** Calls `visit` at each count of a quadrature encoder: `by` is 1 where this line leads the other, -1 where it follows; 0 where both changed at once, or a level was unknown: which way it went cannot be known. */
function eachCount({ trace, other, window }: CardScene, visit: (time: number, by: 1 | -1 | 0) => void): void {
	const lines = [trace, other!];
	const [own, others] = lines.map((line) => {
		const edges = new SeriesBuilder('count');
		eachEdge(line, window, (time, level) => edges.add(time, level));
		return edges.finish();
	});
	const levels: number[] = lines.map((line) => line.levelAfter(line.edgesBefore(window.start)));
	for (let i = 0, j = 0; i < own.at.length || j < others.at.length;) {
		const before = stateOf(levels);
		const time = Math.min(own.at[i] ?? Infinity, others.at[j] ?? Infinity);
		if (own.at[i] === time) levels[0] = own.parts[i++];
		if (others.at[j] === time) levels[1] = others.parts[j++];
		const after = stateOf(levels);
		const turned = before === undefined || after === undefined ? 0 : (after - before + 4) % 4;
		visit(time, turned === 1 ? 1 : turned === 3 ? -1 : 0);
	}
}

/** Quarters of a cycle as this line leads: 00, 10, 11, 01; undefined where a level is unknown. */
function stateOf([a, b]: readonly number[]): number | undefined {
	return a > 1 || b > 1 ? undefined : b === 0 ? a : 3 - a;
}

/** The position after each count, from 0 at the window's start. */
export function positionSeries(scene: CardScene): Series {
	const series = new SeriesBuilder('count');
	let position = 0;
	eachCount(scene, (time, by) => series.add(time, (position += by)));
	return series.finish();
}

/** Counts a second, from each count to the next one in the same direction. */
export function speedSeries(scene: CardScene): Series {
	const series = new SeriesBuilder('rate');
	let [last, way] = [0, 0];
	eachCount(scene, (time, by) => {
		if (by !== 0 && by === way && time > last) series.add(last, time - last);
		[last, way] = [time, by];
	});
	return series.finish();
}

/** Counts in a row in one direction, below zero where it turns back. */
export function turnSeries(scene: CardScene): Series {
	const series = new SeriesBuilder('count');
	let [from, run] = [0, 0];
	eachCount(scene, (time, by) => {
		if (by !== 0 && run * by > 0) run += by;
		else {
			if (run !== 0) series.add(from, run);
			[from, run] = [time, by];
		}
	});
	if (run !== 0) series.add(from, run);
	return series.finish();
}

/** Changes of both lines at once, or of unknown levels: counts that are lost or made up. */
export function missedSeries(scene: CardScene): Series {
	const series = new SeriesBuilder('count');
	eachCount(scene, (time, by) => {
		if (by === 0) series.add(time, 1);
	});
	return series.finish();
}
