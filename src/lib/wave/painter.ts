import type { Pen } from './pen.js';
import type { DrawItem } from './scene.js';

/** Colours of the current theme, read from the page once a frame. */
export interface Inks {
	ink: string;
	soft: string;
	grid: string;
	plan: string;
	fault: string;
	warn: string;
	/** Another recording. */
	before: string;
}

/** The band a lane's levels lie in, in pixels from the canvas's top. */
export interface Band {
	high: number;
	low: number;
}

export function readInks(element: Element): Inks {
	const style = getComputedStyle(element);
	const get = (name: string) => style.getPropertyValue(name).trim();
	return {
		ink: get('--color-ink'),
		soft: get('--color-soft'),
		grid: get('--color-grid'),
		plan: get('--color-accent'),
		fault: get('--color-fault'),
		warn: get('--color-warn'),
		before: get('--color-series-b')
	};
}

/** Hatches made before, by colour and ratio: any context can paint with them. */
const made = new Map<string, CanvasPattern>();

/** The hatch of everything planned: slanting strokes in the accent's colour. */
export function hatch(context: CanvasRenderingContext2D, colour: string, ratio: number): CanvasPattern | string {
	const key = `${colour} ${ratio}`;
	const known = made.get(key);
	if (known) return known;
	const pattern = makeHatch(context, colour, ratio);
	if (pattern) made.set(key, pattern);
	return pattern ?? colour;
}

function makeHatch(context: CanvasRenderingContext2D, colour: string, ratio: number): CanvasPattern | null {
	const size = Math.round(7 * ratio);
	const tile = document.createElement('canvas');
	tile.width = tile.height = size;
	const pen = tile.getContext('2d')!;
	pen.strokeStyle = colour;
	pen.globalAlpha = 0.75;
	pen.lineWidth = 1.3 * ratio;
	pen.beginPath();
	for (const shift of [-size, 0, size]) {
		pen.moveTo(shift - 1, size + 1);
		pen.lineTo(shift + size + 1, -1);
	}
	pen.stroke();
	const pattern = context.createPattern(tile, 'repeat');
	pattern?.setTransform(new DOMMatrix().scale(1 / ratio));
	return pattern;
}

/** Planned: a hatched ribbon from the low line up to where the level is high, with a thin outline. */
export function paintPlanned(context: Pen, items: readonly DrawItem[], band: Band, fill: CanvasPattern | string, outline: string): void {
	context.fillStyle = fill;
	for (const item of items) {
		const [from, to] = item.kind === 'edge' ? [item.at, item.at + 1] : [item.from, item.to];
		if (item.kind === 'flat' && item.level !== 1) continue;
		context.fillRect(from, band.high, to - from, band.low - band.high);
	}
	// Many edges a column are at least as dark as one.
	context.fillStyle = outline;
	context.globalAlpha = 0.3;
	for (const item of items) if (item.kind === 'busy') context.fillRect(item.from, band.high, item.to - item.from, band.low - band.high);
	context.globalAlpha = 1;
	context.strokeStyle = outline;
	context.lineWidth = 1;
	context.beginPath();
	traceLine(context, items, { high: band.high + 0.5, low: band.low - 0.5 });
	context.globalAlpha = 0.6;
	context.stroke();
	context.globalAlpha = 1;
}

/** Measured: a solid ink line; columns too full for a line are a solid block. */
export function paintMeasured(context: Pen, items: readonly DrawItem[], band: Band, ink: string): void {
	context.strokeStyle = ink;
	context.fillStyle = ink;
	context.lineWidth = 1.6;
	context.lineJoin = 'miter';
	context.beginPath();
	traceLine(context, items, band);
	context.stroke();
	context.globalAlpha = 0.55;
	for (const item of items) if (item.kind === 'busy') context.fillRect(item.from, band.high, item.to - item.from, band.low - band.high);
	context.globalAlpha = 1;
	// Unknown levels: a dotted line half-way.
	const middle = (band.high + band.low) / 2;
	for (const item of items)
		if (item.kind === 'flat' && item.level === 2) for (let x = item.from; x < item.to; x += 4) context.fillRect(x, middle, 2, 1.5);
}

/** Disagreement: filled, as strong as its share of the column. `share` is asked once a column. */
export function paintDisagreement(context: Pen, columns: number, share: (column: number) => number, band: Band, colour: string): void {
	context.fillStyle = colour;
	for (let column = 0; column < columns;) {
		const value = share(column);
		let to = column + 1;
		while (to < columns && share(to) === value) to++;
		if (value > 0) {
			context.globalAlpha = 0.12 + 0.5 * value;
			context.fillRect(column, band.high, to - column, band.low - band.high);
		}
		column = to;
	}
	context.globalAlpha = 1;
}

/** The path of the levels; a busy stretch is left out, an unknown level breaks the line. */
function traceLine(context: Pen, items: readonly DrawItem[], band: Band): void {
	const y = (level: number) => (level === 1 ? band.high : band.low);
	for (const item of items) {
		if (item.kind === 'flat' && item.level !== 2) {
			context.moveTo(item.from, y(item.level));
			context.lineTo(item.to, y(item.level));
		} else if (item.kind === 'edge') {
			const x = item.at + 0.5;
			if (item.before !== 2) {
				context.moveTo(item.at, y(item.before));
				context.lineTo(x, y(item.before));
			}
			if (item.before !== 2 && item.after !== 2) context.lineTo(x, y(item.after));
			if (item.after !== 2) {
				context.moveTo(x, y(item.after));
				context.lineTo(item.at + 1, y(item.after));
			}
		}
	}
}
