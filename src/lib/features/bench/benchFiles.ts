import { decimalText, exactText, Rational } from '../../../core/exact/index.js';
import { csvRow, writeVcd, type EdgeLine } from '../../../core/formats/index.js';
import { columnWorkspace, escaped, hatch, rulerMarks, SvgPen, type Inks, type Pen, type Surface } from '../../wave/index.js';
import type { PredictedLane } from './prediction.svelte.js';
import type { BenchView } from './benchView.svelte.js';

/** Times of rows are decimals, down to the femtosecond: spreadsheets know no fractions. */
const PLACES = 15;

/** What the view shows, in seconds; plan time begins at 0. */
export function windowOf(view: BenchView): { from: Rational; to: Rational } {
	const seconds = (ps: number) => Rational.of(BigInt(Math.max(0, Math.round(ps))), 10n ** 12n);
	return { from: seconds(view.start), to: seconds(view.start + view.perColumn * view.width) };
}

const nameOf = ({ role, outcome, whatIf }: PredictedLane, aim: string) =>
	[aim, role === 'pin' ? '' : role, outcome && whatIf ? `${outcome} what-if` : ''].filter(Boolean).join(' ');

/** The levels of planned lanes in the window as a value change dump. Throws RangeError when they are too many. */
export function plannedVcd(lanes: readonly PredictedLane[], names: ReadonlyMap<string, string>, view: BenchView, plan: string): string {
	const { from, to } = windowOf(view);
	const lines = lanes.flatMap((lane): EdgeLine[] =>
		lane.drawn.kind === 'level' ? [{ name: nameOf(lane, names.get(lane.aim) ?? lane.aim), source: lane.drawn.trace }] : []
	);
	return writeVcd(lines, from, to, `${plan}, as planned. Begins at ${exactText(from)} s; times are rounded to picoseconds.`);
}

const MOST_ROWS = 500_000;

/** Every change and event of planned lanes in the window: exact cycles, seconds rounded to a femtosecond, what it is of, and the value. Throws RangeError when they are too many. */
export function plannedCsv(lanes: readonly PredictedLane[], names: ReadonlyMap<string, string>, view: BenchView): string {
	const { from, to } = windowOf(view);
	const rows: [number, string][] = [];
	for (const lane of lanes) {
		const first = -Number(from.div(lane.unit).neg().floor());
		const last = -Number(to.div(lane.unit).neg().floor());
		const title = csvRow([nameOf(lane, names.get(lane.aim) ?? lane.aim)]);
		const take = (count: number, add: (i: number) => void, begin: number) => {
			if (rows.length + count > MOST_ROWS) throw new RangeError(`more than ${MOST_ROWS} rows`);
			for (let i = begin; i < begin + count; i++) add(i);
		};
		const { drawn } = lane;
		if (drawn.kind === 'events') {
			for (const { mark, trace } of drawn.sets) {
				const begin = trace.edgesBefore(first);
				take(trace.edgesBefore(last) - begin, (i) => rows.push([trace.edgeTime(i), `${title},${mark}`]), begin);
			}
			continue;
		}
		const points = drawn.kind === 'level' ? drawn.trace : drawn.trace.points;
		const begin = points.edgesBefore(first);
		const value = (i: number) => (drawn.kind === 'level' ? drawn.trace.levelAfter(i + 1) : drawn.trace.point(i).value);
		take(points.edgesBefore(last) - begin, (i) => rows.push([points.edgeTime(i), `${title},${value(i)}`]), begin);
	}
	const unit = lanes[0]?.unit ?? Rational.one;
	rows.sort((a, b) => a[0] - b[0]);
	return [
		'cycle,time (s to 15 places),line,value',
		...rows.map(([time, rest]) => `${time},${decimalText(Rational.int(time).mul(unit), PLACES)},${rest}`),
		''
	].join('\n');
}

/** A lane as a picture needs it. */
export interface PictureRow {
	name: string;
	height: number;
	paint: (pen: Pen, surface: Surface) => void;
}

const [MARGIN, HEAD] = [170, 24];
/** Letters of a name that fit into the margin, and pixels from one line of it to the next. */
const [FITS, LINE] = [24, 15];

/** "aim: line" in two lines around a height. */
function paintName(pen: Pick<Pen, 'fillText'>, name: string, middle: number): void {
	const parts = name.split(': ').filter((part) => part !== '');
	const lines = parts.length > 1 ? [parts[0], parts.slice(1).join(': ')] : parts;
	lines.forEach((line, i) => {
		const shown = line.length > FITS ? `${line.slice(0, FITS - 1)}…` : line;
		pen.fillText(shown, 8, middle + (i - (lines.length - 1) / 2) * LINE);
	});
}

/** All rows with their names and a ruler as one PNG. */
export function rowsPng(rows: readonly PictureRow[], view: BenchView, inks: Inks, paper: string): Promise<Blob | null> {
	const picture = document.createElement('canvas');
	const columns = view.viewport.columns;
	picture.width = MARGIN + columns;
	picture.height = HEAD + rows.reduce((sum, { height }) => sum + height, 0);
	const pen = picture.getContext('2d')!;
	pen.fillStyle = paper;
	pen.fillRect(0, 0, picture.width, picture.height);
	pen.font = '12px sans-serif';
	paintHead(pen, view, inks);
	const workspace = columnWorkspace(columns);
	const [plan, warn] = [hatch(pen, inks.plan, 1), hatch(pen, inks.warn, 1)];
	let top = HEAD;
	for (const { name, height, paint } of rows) {
		pen.save();
		pen.fillStyle = inks.ink;
		pen.font = '12px sans-serif';
		paintName(pen, name, top + height / 2 + 4);
		pen.translate(MARGIN, top);
		pen.beginPath();
		pen.rect(0, 0, columns, height);
		pen.clip();
		paint(pen, { viewport: view.viewport, height, inks, plan, warn, workspace });
		pen.restore();
		top += height;
	}
	return new Promise((resolve) => picture.toBlob(resolve));
}

function paintHead(pen: Pen, view: BenchView, inks: Inks): void {
	pen.fillStyle = inks.soft;
	for (const { x, label } of rulerMarks(view.viewport, view.zero, 110)) {
		pen.fillRect(MARGIN + x, HEAD - 8, 1, 8);
		pen.fillText(label, MARGIN + x + 4, 14);
	}
}

/** The same as an SVG document. */
export function rowsSvg(rows: readonly PictureRow[], view: BenchView, inks: Inks, paper: string, title: string): string {
	const columns = view.viewport.columns;
	const width = MARGIN + columns;
	const tall = HEAD + rows.reduce((sum, { height }) => sum + height, 0);
	const workspace = columnWorkspace(columns);
	const head = new SvgPen(0, 0, 'head');
	head.font = '12px sans-serif';
	paintHead(head, view, inks);
	const parts = [...head.elements];
	let top = HEAD;
	rows.forEach(({ name, height, paint }, i) => {
		const label = new SvgPen(0, top, `label-${i}`);
		label.font = '12px sans-serif';
		label.fillStyle = inks.ink;
		paintName(label, name, height / 2 + 4);
		const pen = new SvgPen(MARGIN, top, `row-${i}`);
		paint(pen, { viewport: view.viewport, height, inks, plan: 'url(#hatch-plan)', warn: 'url(#hatch-warn)', workspace });
		parts.push(
			...label.elements,
			`<svg x="${MARGIN}" y="${top}" width="${columns}" height="${height}" viewBox="${MARGIN} ${top} ${columns} ${height}">`,
			...pen.elements,
			'</svg>'
		);
		top += height;
	});
	const tile = (id: string, ink: string) =>
		`<pattern id="${id}" width="7" height="7" patternUnits="userSpaceOnUse"><path d="M-1 8L8 -1M-1 1L1 -1M6 8L8 6" stroke="${ink}" stroke-width="1.3" stroke-opacity="0.75"/></pattern>`;
	return [
		`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${tall}" viewBox="0 0 ${width} ${tall}" font-family="sans-serif">`,
		`<title>${escaped(title)}</title>`,
		`<defs>${tile('hatch-plan', inks.plan)}${tile('hatch-warn', inks.warn)}</defs>`,
		`<rect width="${width}" height="${tall}" fill="${paper}"/>`,
		...parts,
		'</svg>',
		''
	].join('\n');
}
