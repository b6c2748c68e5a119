import { ladderMarks, type Ladder, type Rung } from './ladder.js';
import { hatch, type Inks } from './painter.js';

/** A line from what feeds a node to the node, with its factor. */
export interface LadderLink {
	from: string;
	to: string;
	/** "× 12", "÷ 2"; undefined for one that hands its clock on as it is. */
	label: string | undefined;
	/** False: an input that is not picked, or a stopped one. */
	live: boolean;
}

/** Which nodes stand out. */
export interface LadderLook {
	/** Lit up with the node that is looked at; undefined: none is looked at. */
	lit: ReadonlySet<string> | undefined;
	faulty: ReadonlySet<string>;
	selected: string | undefined;
}

/** Length of a rung, and where a link meets it. */
const RUNG = 30;
const FAINT = 0.28;

/** Paints ruler, links, limits, reset positions and rungs; the labels are the page's. */
export function paintLadder(
	context: CanvasRenderingContext2D,
	ladder: Ladder,
	links: readonly LadderLink[],
	look: LadderLook,
	inks: Inks,
	ratio: number
): void {
	const fill = hatch(context, inks.plan, ratio);
	paintRuler(context, ladder, inks);
	for (const link of links) paintLink(context, ladder, link, look, inks);
	for (const rung of ladder.rungs.values()) {
		context.globalAlpha = look.lit && !look.lit.has(rung.id) ? FAINT : 1;
		paintCaps(context, rung, look.faulty.has(rung.id) ? inks.fault : inks.soft);
		paintReset(context, rung, inks.soft);
		paintLeader(context, rung, inks.soft);
		if (rung.y !== undefined)
			paintRung(
				context,
				rung,
				rung.y,
				rung.id === look.selected,
				look.faulty.has(rung.id) ? inks.fault : fill,
				look.faulty.has(rung.id) ? inks.fault : inks.plan
			);
	}
	context.globalAlpha = 1;
}

function paintRuler(context: CanvasRenderingContext2D, ladder: Ladder, inks: Inks): void {
	context.font = '11px "Spline Sans Mono", monospace';
	for (const { y, label } of ladderMarks(ladder.scale)) {
		context.fillStyle = label ? inks.soft : inks.grid;
		context.globalAlpha = label ? 0.45 : 1;
		context.fillRect(label ? 0 : 46, Math.round(y), ladder.width, 1);
		context.globalAlpha = 1;
		if (label) context.fillText(label, 2, Math.round(y) - 4);
	}
	context.strokeStyle = inks.soft;
	context.lineWidth = 1.2;
	for (const [top, bottom] of ladder.scale.breaks) paintBreak(context, ladder.width, (top + bottom) / 2);
}

/** A break of the ruler: two wavy lines across. */
function paintBreak(context: CanvasRenderingContext2D, width: number, middle: number): void {
	context.globalAlpha = 0.5;
	for (const y of [middle - 4, middle + 4]) {
		context.beginPath();
		for (let x = 0; x <= width; x += 6) context.lineTo(x, y + (Math.round(x / 6) % 2 === 0 ? -2 : 2));
		context.stroke();
	}
	context.globalAlpha = 1;
}

function paintLink(
	context: CanvasRenderingContext2D,
	{ rungs }: Ladder,
	{ from, to, label, live }: LadderLink,
	look: LadderLook,
	inks: Inks
): void {
	const a = rungs.get(from);
	const b = rungs.get(to);
	if (a?.y === undefined || b?.y === undefined) return;
	const lit = look.lit?.has(from) && look.lit.has(to);
	context.globalAlpha = lit ? 1 : look.lit ? FAINT / (live ? 1 : 2) : live ? 0.6 : 0.22;
	context.strokeStyle = lit ? inks.plan : inks.soft;
	context.lineWidth = lit ? 1.8 : 1.1;
	context.setLineDash(live ? [] : [2, 4]);
	const start = a.x + RUNG;
	context.beginPath();
	context.moveTo(start, a.y);
	// Along its own height to just before the node, then up or down: links to one column do not cross its labels.
	const knee = Math.max(start, b.x - 26);
	context.lineTo(knee, a.y);
	context.lineTo(b.x, b.y);
	context.stroke();
	context.setLineDash([]);
	if (label && live) {
		context.font = '10.5px "Spline Sans Mono", monospace';
		context.fillStyle = lit ? inks.plan : inks.soft;
		const wide = context.measureText(label).width;
		context.fillText(label, b.x - wide - 3, b.y + (b.y > a.y ? 11 : b.y < a.y ? -5 : -4));
	}
}

/** A limit is a cap on the ruler that the rung may touch but not pass. */
function paintCaps(context: CanvasRenderingContext2D, { x, minY, maxY }: Rung, colour: string): void {
	context.fillStyle = colour;
	for (const [y, way] of [
		[maxY, 1],
		[minY, -1]
	] as const) {
		if (y === undefined) continue;
		context.fillRect(x - 2, y - 1, RUNG + 4, 2);
		context.fillRect(x - 2, way > 0 ? y : y - 5, 2, 5);
		context.fillRect(x + RUNG, way > 0 ? y : y - 5, 2, 5);
	}
}

/** Where the node stands at reset: a ghost, and a dotted way from it. */
function paintReset(context: CanvasRenderingContext2D, { x, y, resetY }: Rung, colour: string): void {
	if (resetY === undefined || (y !== undefined && Math.abs(y - resetY) < 1)) return;
	context.strokeStyle = colour;
	context.lineWidth = 1;
	context.setLineDash([3, 3]);
	context.strokeRect(x + 0.5, Math.round(resetY) - 2.5, RUNG - 1, 5);
	if (y !== undefined) {
		context.setLineDash([1, 4]);
		context.beginPath();
		context.moveTo(x + RUNG / 2, y);
		context.lineTo(x + RUNG / 2, resetY);
		context.stroke();
	}
	context.setLineDash([]);
}

/** From a rung to its label, where that was pushed away. */
function paintLeader(context: CanvasRenderingContext2D, { x, y, labelY, labelEnd }: Rung, colour: string): void {
	if (y === undefined || labelY === undefined || labelEnd === undefined) return;
	const end = y > labelEnd ? labelEnd : y < labelY ? labelY : y;
	if (Math.abs(end - y) < 3) return;
	context.strokeStyle = colour;
	context.lineWidth = 1;
	context.beginPath();
	context.moveTo(x + 1, y);
	context.lineTo(x + 1, end);
	context.stroke();
}

function paintRung(
	context: CanvasRenderingContext2D,
	{ x }: Rung,
	y: number,
	selected: boolean,
	fill: CanvasPattern | string,
	outline: string
): void {
	const half = selected ? 4.5 : 3;
	context.fillStyle = fill;
	context.fillRect(x, y - half, RUNG, 2 * half);
	context.strokeStyle = outline;
	context.lineWidth = selected ? 2 : 1;
	context.strokeRect(x, y - half, RUNG, 2 * half);
}
