import type { Trace } from '../../core/trace/index.js';
import { exactText } from '../../core/exact/index.js';
import { rulerMarks } from '../wave/index.js';
import type { BenchView } from './view.svelte.js';

/** A line's edges as rows of exact seconds and the level from then on; x for unknown. */
export function edgesCsv(trace: Trace, name: string): string {
	const levels = ['0', '1', 'x'];
	const rows = [
		`time (s),${name.replaceAll(/[",\n]/g, ' ')}`,
		`${exactText(trace.seconds(trace.meta.start))},${levels[trace.meta.initial]}`
	];
	trace.forEdges(0, trace.count, (time, level) => {
		if (time > trace.meta.start) rows.push(`${exactText(trace.seconds(time))},${levels[level]}`);
	});
	return rows.join('\n') + '\n';
}

/** All lanes of the stage with their names and a ruler as one PNG; null when there is none. */
export function lanesPicture(stage: HTMLElement, names: string[], view: BenchView): Promise<Blob | null> {
	const lanes = [...stage.querySelectorAll<HTMLCanvasElement>('canvas[data-wave]')];
	if (lanes.length === 0) return Promise.resolve(null);
	const style = getComputedStyle(document.documentElement);
	const [margin, head] = [170, 24];
	const heights = lanes.map((lane) => lane.clientHeight);
	const picture = document.createElement('canvas');
	picture.width = margin + lanes[0].clientWidth;
	picture.height = head + heights.reduce((sum, height) => sum + height, 0);
	const pen = picture.getContext('2d')!;
	pen.fillStyle = style.getPropertyValue('--color-card');
	pen.fillRect(0, 0, picture.width, picture.height);
	pen.fillStyle = style.getPropertyValue('--color-ink');
	pen.font = '12px sans-serif';
	for (const { x, label } of rulerMarks(view.viewport, view.zero, 110)) {
		pen.fillRect(margin + x, head - 8, 1, 8);
		pen.fillText(label, margin + x + 4, 14);
	}
	let top = head;
	lanes.forEach((lane, i) => {
		pen.drawImage(lane, margin, top, lane.clientWidth, heights[i]);
		pen.fillText(names[i] ?? '', 8, top + heights[i] / 2, margin - 16);
		top += heights[i];
	});
	return new Promise((done) => picture.toBlob(done));
}
