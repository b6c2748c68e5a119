import { periodFront, type PeriodWish, type RatioTable } from '../../../core/solve/index.js';

/** A setting in the trade-off chart; ppm is rounded and signed. */
export interface Dot {
	prescale: number;
	reload: number;
	ticks: number;
	ppm: number;
}

/** Where the chart's logarithmic error axis ends: this and anything less is drawn as exact. */
export const EXACT_PPM = 0.01;

/** Cells of the chart in which one dot stands for all: bits and decades of error, finely enough for the eye. */
const CELLS_A_BIT = 24;
const CELLS_A_DECADE = 20;

/** Prescales looked at between two rests. */
const AT_ONCE = 8192;

/** What the chart shows. */
export interface Front {
	dots: Dot[];
	edge: Dot[];
	mostBits: number;
}

/**
 * The best reload of every prescale, thinned to one dot a cell of the chart (the best in it), and the edge of those that
 * nothing beats in both resolution and error, from the coarsest up. Rests on the way.
 */
export function* frontDots(wish: PeriodWish, table: RatioTable): Generator<void, Front, void> {
	const front = periodFront(wish, table);
	const cells = new Map<number, Dot>();
	for (let i = 0; i < front.ticks.length; i++) {
		if (i % AT_ONCE === 0) yield;
		const size = Math.max(Math.abs(front.ppm[i]), EXACT_PPM);
		if (size > 1e6) continue;
		const cell = Math.round(Math.log2(front.ticks[i]) * CELLS_A_BIT) * 4096 + Math.round(Math.log10(size / EXACT_PPM) * CELLS_A_DECADE);
		const known = cells.get(cell);
		if (known && Math.abs(known.ppm) <= Math.abs(front.ppm[i])) continue;
		cells.set(cell, { prescale: front.prescale[i], reload: front.reload[i], ticks: front.ticks[i], ppm: front.ppm[i] });
	}
	const dots = [...cells.values()];
	const mostBits = Math.ceil(Math.log2(wish.counting.mode === 'updown' ? 2 ** (wish.counting.width + 1) : 2 ** wish.counting.width));
	return { dots, edge: unbeaten(dots), mostBits };
}

/** All of the front as rows, one a prescale. */
export function frontCsv(wish: PeriodWish, table: RatioTable): string {
	const front = periodFront(wish, table);
	const rows = Array.from(front.prescale, (prescale, i) => `${prescale},${front.reload[i]},${front.ticks[i]},${front.ppm[i]}`);
	return ['prescale,reload,ticks,error (ppm)', ...rows, ''].join('\n');
}

function unbeaten(dots: readonly Dot[]): Dot[] {
	const falling = [...dots].sort((a, b) => b.ticks - a.ticks || Math.abs(a.ppm) - Math.abs(b.ppm));
	const edge: Dot[] = [];
	for (const dot of falling) {
		const last = edge.at(-1);
		if (!last || Math.abs(dot.ppm) < Math.abs(last.ppm)) edge.push(dot);
	}
	return edge.reverse();
}
