import type { Disagreement, LevelSource, StretchedTrace, ValueTrace } from '../../core/trace/index.js';
import { paintDisagreement, paintMeasured, paintPlanned, type Band, type Inks } from './painter.js';
import type { Pen } from './pen.js';
import { laneScene, type Columns, type ColumnSource, type Viewport } from './scene.js';
import { valueScene } from './values.js';

/** Everything a painter needs besides what it paints: pixels are columns, so a lane is as wide as its viewport. */
export interface Surface {
	viewport: Viewport;
	height: number;
	inks: Inks;
	/** Hatches in the colours of the plan and of warnings. */
	plan: CanvasPattern | string;
	warn: CanvasPattern | string;
	workspace: Columns;
}

export function bandOf(height: number): Band {
	return height < 50 ? { high: 6, low: height - 6 } : { high: 13, low: height - 13 };
}

/** A recording against its plan. Times of sources are shifted to the viewport's time, in picoseconds. */
export interface RecordedLane {
	planned: LevelSource | null;
	/** Plan time of the planned wave's time 0. */
	plannedPs: number;
	/** How much longer the plan's times are by the recording's clock; left out: as long. */
	plannedScale?: number;
	measured: LevelSource | ColumnSource | undefined;
	/** Another recording of it, drawn dashed in place of the plan, and its time at plan time 0. */
	before?: { source: LevelSource | ColumnSource; shiftPs: number } | undefined;
	/** Its samples in the columns of the view, drawn behind the edges. */
	analogue?: AnalogueView;
	/** The measured line's time at plan time 0. */
	shiftPs: number;
	/** Where the measured line begins and ends, in plan time. */
	extent: [number, number] | undefined;
	disagreement: Disagreement | undefined;
	/** A what-if: hatched in the colour of warnings. */
	suspect: boolean;
}

/** Plan hatched, disagreement filled, recording in ink. */
export function paintRecorded(pen: Pen, lane: RecordedLane, surface: Surface): void {
	const { viewport, height, inks, workspace } = surface;
	const { planned, plannedPs, measured, shiftPs, extent, disagreement, suspect } = lane;
	const band = bandOf(height);
	const { before } = lane;
	if (planned && !before) {
		const items = laneScene(
			planned,
			{ offsetPs: plannedPs, unitPs: planned.unit.toNumber() * 1e12 * (lane.plannedScale ?? 1) },
			viewport,
			workspace
		);
		paintPlanned(pen, items, band, suspect ? surface.warn : surface.plan, suspect ? inks.warn : inks.plan);
	}
	if (!measured || !extent) return;
	pen.save();
	clipTo(pen, extent[0], extent[1], surface);
	const unit = measured.unit.toNumber() * 1e12;
	if (disagreement) {
		const units = (column: number) => (viewport.start + column * viewport.perColumn + shiftPs) / unit;
		paintDisagreement(pen, viewport.columns, (column) => disagreement.share(units(column), units(column + 1)), band, inks.fault);
	}
	if (lane.analogue) paintSamples(pen, lane.analogue, surface);
	if (before) {
		const scale = { offsetPs: -before.shiftPs, unitPs: before.source.unit.toNumber() * 1e12 };
		pen.setLineDash([5, 4]);
		paintMeasured(pen, laneScene(before.source, scale, viewport, workspace), band, inks.before);
		pen.setLineDash([]);
	}
	paintMeasured(pen, laneScene(measured, { offsetPs: -shiftPs, unitPs: unit }, viewport, workspace), band, inks.ink);
	pen.restore();
}

/** Samples in columns of their own, from `start` picoseconds of plan time on, and the lines at which they are cut. */
export interface AnalogueView {
	start: number;
	perColumn: number;
	/** Least and greatest of each column. */
	bounds: Float32Array;
	least: number;
	most: number;
	threshold: number | undefined;
	hysteresis: number;
}

/** Where a value of an analogue line is drawn. */
export function sampleY({ least, most }: Pick<AnalogueView, 'least' | 'most'>, value: number, height: number): number {
	return height - 5 - ((value - least) / Math.max(1e-30, most - least)) * (height - 10);
}

function paintSamples(pen: Pen, view: AnalogueView, { viewport, height, inks }: Surface): void {
	const y = (value: number) => sampleY(view, value, height);
	pen.fillStyle = inks.soft;
	pen.globalAlpha = 0.55;
	for (let column = 0; column < view.bounds.length / 2; column++) {
		const [least, most] = [view.bounds[2 * column], view.bounds[2 * column + 1]];
		if (least !== least) continue;
		const x = (view.start + column * view.perColumn - viewport.start) / viewport.perColumn;
		if (x < -2 || x > viewport.columns) continue;
		pen.fillRect(x, y(most), Math.max(1, view.perColumn / viewport.perColumn), Math.max(1.2, y(least) - y(most)));
	}
	pen.globalAlpha = 1;
	if (view.threshold === undefined) return;
	pen.strokeStyle = inks.ink;
	for (const [value, dash] of [
		[view.threshold, [6, 4]],
		[view.threshold + view.hysteresis, [1, 4]],
		[view.threshold - view.hysteresis, [1, 4]]
	] as const) {
		pen.lineWidth = 1;
		pen.setLineDash([...dash]);
		pen.beginPath();
		pen.moveTo(0, y(value));
		pen.lineTo(viewport.columns, y(value));
		pen.stroke();
	}
	pen.setLineDash([]);
}

function clipTo(pen: Pen, fromPs: number, toPs: number, { viewport, height }: Surface): void {
	const [from, to] = [fromPs, toPs].map((time) => Math.min(1e6, Math.max(-10, (time - viewport.start) / viewport.perColumn)));
	pen.beginPath();
	pen.rect(from, 0, to - from, height);
	pen.clip();
}

/** A pin as it will be; `glitches`: stretches that belong to no setting, in units. */
export function paintPin(pen: Pen, trace: LevelSource, glitches: readonly [number, number][], whatIf: boolean, surface: Surface): void {
	const { viewport, inks, height } = surface;
	const band = bandOf(height);
	const unitPs = trace.unit.toNumber() * 1e12;
	const items = laneScene(trace, { offsetPs: 0, unitPs }, viewport, surface.workspace);
	paintPlanned(pen, items, band, whatIf ? surface.warn : surface.plan, whatIf ? inks.warn : inks.plan);
	pen.fillStyle = inks.fault;
	for (const [from, to] of glitches) {
		const [a, b] = [from, to].map((t) => (t * unitPs - viewport.start) / viewport.perColumn);
		if (b < 0 || a > viewport.columns) continue;
		pen.globalAlpha = 0.28;
		pen.fillRect(a, 2, Math.max(2, b - a), height - 4);
		pen.globalAlpha = 1;
		pen.fillRect(a, height - 3, Math.max(2, b - a), 2);
	}
}

/** A counter as its ramp, with registers as dashed lines across it. */
export function paintValue(
	pen: Pen,
	{ trace, lines, top, unit }: { trace: ValueTrace; lines: readonly { name: string; trace: ValueTrace }[]; top: number; unit: string },
	surface: Surface
): void {
	const { viewport, inks, height } = surface;
	const { high, low } = bandOf(height);
	const unitPs = trace.unit.toNumber() * 1e12;
	const y = (value: number) => low - (value / Math.max(1, top)) * (low - high);
	const scene = valueScene(trace, unitPs, viewport);
	if (scene.kind === 'spans') {
		scene.least.forEach((least, column) => {
			if (Number.isNaN(least)) return;
			const tall = y(least) - y(scene.most[column]);
			// A thin line keeps its ink, a band its hatch.
			pen.fillStyle = tall < 4 ? inks.plan : surface.plan;
			pen.fillRect(column, y(scene.most[column]) - (tall < 4 ? 0.7 : 0), 1, Math.max(1.4, tall));
		});
	} else if (scene.corners.length > 0) {
		const { corners } = scene;
		const path = () => {
			pen.beginPath();
			corners.forEach(({ x, value }, i) => (i === 0 ? pen.moveTo(x, y(value)) : pen.lineTo(x, y(value))));
		};
		path();
		pen.lineTo(corners[corners.length - 1].x, low);
		pen.lineTo(corners[0].x, low);
		pen.fillStyle = surface.plan;
		pen.globalAlpha = 0.45;
		pen.fill();
		pen.globalAlpha = 1;
		path();
		pen.strokeStyle = inks.plan;
		pen.lineWidth = 1.3;
		pen.stroke();
	}
	if (unit !== '') {
		pen.fillStyle = inks.soft;
		pen.font = '10px monospace';
		pen.fillText(`${top} ${unit}`, 4 + Math.max(0, -viewport.start / viewport.perColumn), 10);
	}
	lines.forEach(({ name, trace: register }, i) => {
		const found = valueScene(register, unitPs, viewport);
		pen.strokeStyle = i === 0 && name === 'reload' ? inks.soft : inks.fault;
		pen.lineWidth = 1;
		pen.setLineDash([4, 3]);
		pen.beginPath();
		if (found.kind === 'line') found.corners.forEach(({ x, value }, k) => (k === 0 ? pen.moveTo(x, y(value)) : pen.lineTo(x, y(value))));
		else
			found.least.forEach((least, column) => {
				pen.moveTo(column, y(least));
				pen.lineTo(column + 1, y(found.most[column]) - 0.5);
			});
		pen.stroke();
		pen.setLineDash([]);
		const shown = register.at(Math.max(0, Math.floor(viewport.start / unitPs)));
		if (shown === undefined || found.kind !== 'line') return;
		pen.fillStyle = i === 0 && name === 'reload' ? inks.soft : inks.fault;
		pen.font = '10px monospace';
		pen.fillText(
			`${name.replace(/^compare:.*/, 'compare')} ${shown}`,
			4 + Math.max(0, -viewport.start / viewport.perColumn),
			Math.max(9, y(shown) - 3)
		);
	});
}

export interface EventSet {
	mark: 'update' | 'match' | 'capture' | 'interrupt' | 'write' | 'effect';
	trace: StretchedTrace;
}

/** Each event as its own sign: what the counter does stands below, what comes or is caught in the middle, what software does on top. */
export function paintEvents(pen: Pen, sets: readonly EventSet[], busy: number, surface: Surface): void {
	const { viewport, inks, height } = surface;
	const [top, foot] = [4, height - 5];
	const middle = height / 2;
	pen.fillStyle = inks.soft;
	pen.globalAlpha = 0.5;
	pen.fillRect(0, foot, viewport.columns, 1);
	pen.globalAlpha = 1;
	for (const { mark, trace } of sets) {
		const unitPs = trace.unit.toNumber() * 1e12;
		const x = (t: number) => (t * unitPs - viewport.start) / viewport.perColumn;
		const from = trace.edgesBefore(viewport.start / unitPs - (mark === 'interrupt' ? busy : 0));
		const to = trace.edgesBefore((viewport.start + viewport.columns * viewport.perColumn) / unitPs);
		const ink = mark === 'write' || mark === 'effect' ? inks.warn : mark === 'capture' ? inks.fault : inks.plan;
		pen.fillStyle = pen.strokeStyle = ink;
		if (to - from > viewport.columns / 3) {
			crowd(pen, trace, mark, surface);
			continue;
		}
		for (let i = from; i < to; i++) {
			const time = trace.edgeTime(i);
			const at = x(time);
			pen.lineWidth = 1.2;
			switch (mark) {
				case 'update':
					bar(pen, at, middle, foot);
					triangle(pen, at, foot - 6, 3.5, 6, true);
					break;
				case 'interrupt':
					bar(pen, at, top + 3, foot);
					pen.globalAlpha = 0.35;
					pen.fillRect(at, foot - 8, Math.max(2, x(time + busy) - at), 8);
					pen.globalAlpha = 1;
					break;
				case 'match':
					bar(pen, at, middle - 3, foot);
					diamond(pen, at, middle - 4, 3.5);
					break;
				case 'capture':
					bar(pen, at, top + 7, foot);
					pen.beginPath();
					pen.arc(at, top + 4, 3.2, 0, 2 * Math.PI);
					pen.stroke();
					break;
				case 'write':
					triangle(pen, at, top + 6, 3.5, -6, false);
					break;
				case 'effect':
					bar(pen, at, top, foot);
					triangle(pen, at, top + 6, 3.5, -6, true);
			}
		}
	}
}

const HEIGHTS: Record<EventSet['mark'], [number, number]> = {
	update: [0.5, 1],
	interrupt: [0.1, 1],
	match: [0.4, 0.8],
	capture: [0.2, 1],
	write: [0, 0.15],
	effect: [0.15, 0.3]
};

/** Too many to be told apart: a block as strong as there are many. */
function crowd(pen: Pen, trace: StretchedTrace, mark: EventSet['mark'], { viewport, height, workspace }: Surface): void {
	const [a, b] = HEIGHTS[mark];
	pen.globalAlpha = 0.4;
	for (const item of laneScene(trace, { offsetPs: 0, unitPs: trace.unit.toNumber() * 1e12 }, viewport, workspace)) {
		if (item.kind === 'flat') continue;
		const [from, to] = item.kind === 'edge' ? [item.at, item.at + 1] : [item.from, item.to];
		pen.fillRect(from, 4 + a * (height - 9), to - from, (b - a) * (height - 9));
	}
	pen.globalAlpha = 1;
}

function bar(pen: Pen, x: number, from: number, to: number): void {
	pen.beginPath();
	pen.moveTo(x, from);
	pen.lineTo(x, to);
	pen.stroke();
}

function triangle(pen: Pen, x: number, y: number, half: number, tall: number, filled: boolean): void {
	pen.beginPath();
	pen.moveTo(x, y);
	pen.lineTo(x - half, y + tall);
	pen.lineTo(x + half, y + tall);
	pen.lineTo(x, y);
	if (filled) pen.fill();
	else pen.stroke();
}

function diamond(pen: Pen, x: number, y: number, half: number): void {
	pen.beginPath();
	pen.moveTo(x, y - half);
	pen.lineTo(x + half, y);
	pen.lineTo(x, y + half);
	pen.lineTo(x - half, y);
	pen.lineTo(x, y - half);
	pen.fill();
}
