import type { ChartConfiguration, ChartDataset, Plugin } from 'chart.js';
import type { AimChart, CandidateEdit } from '../../core/aims/index.js';
import { curveLabel, curveWords, decade } from '../text/index.js';
import { axisStyle, type ChartStyle } from './chartStyle.js';

/** Told apart by dash as well as by colour. */
const DASHES = [[], [6, 3], [2, 3], [8, 3, 2, 3]];
const INKS = ['--color-accent', '--color-ink', '--color-series-b', '--color-soft'];

export function pointsOf(points: readonly [number, number][]): { x: number; y: number }[] {
	return points.map(([x, y]) => ({ x, y }));
}

/** A chart of curves, or of candidates that a press takes. */
export function curveConfig(
	shown: AimChart,
	style: ChartStyle,
	onTake: ((edit: CandidateEdit) => void) | undefined
): ChartConfiguration<'line'> {
	return {
		type: 'line',
		data: { datasets: shown.series.map((one, i) => dataset(shown, one, i, style)) },
		plugins: [rangePlugin(shown, style)],
		options: {
			animation: false,
			maintainAspectRatio: false,
			interaction: { mode: 'nearest', intersect: false },
			onClick: (_, elements) => {
				const edit = elements[0] && shown.edits?.[elements[0].index];
				if (edit) onTake?.(edit);
			},
			scales: scalesOf(shown, style),
			plugins: {
				legend: { display: shown.series.length > 1, labels: { color: style.ink('--color-ink'), boxHeight: 1, font: style.font } }
			}
		}
	};
}

function scalesOf({ code, unit, wanted }: AimChart, style: ChartStyle) {
	const { x, y, log } = curveWords(code, unit);
	const axis = (title: string, plain: boolean) => {
		const base = axisStyle(style, title);
		const decades = log && { maxRotation: 0, callback: (value: string | number) => decade(Number(value), plain) };
		return {
			...base,
			type: log ? ('logarithmic' as const) : ('linear' as const),
			ticks: { ...base.ticks, maxTicksLimit: 7, ...decades }
		};
	};
	const around = wanted !== undefined && { suggestedMin: wanted / 2, suggestedMax: wanted * 2 };
	return { x: axis(x, false), y: { ...axis(y, y.includes('%')), ...around } };
}

function dataset({ code, edits, chosen }: AimChart, one: AimChart['series'][number], i: number, { ink }: ChartStyle): ChartDataset<'line'> {
	const own = ink(INKS[i % INKS.length]);
	const line = {
		label: curveLabel(one),
		data: pointsOf(one.points),
		borderColor: own,
		borderDash: DASHES[i % DASHES.length],
		borderWidth: 1.8,
		stepped: code === 'rows' || (code === 'averaged' && i > 0),
		showLine: (!edits || code === 'range') && code !== 'spectrum'
	};
	if (code === 'spectrum') return { ...line, pointRadius: 3, pointStyle: i === 0 ? 'circle' : 'rectRot', pointBackgroundColor: own };
	if (!edits) return { ...line, pointRadius: 0 };
	// The chosen candidate is a large open diamond.
	const each = <T>(taken: T, other: T) => one.points.map((_, k) => (k === chosen ? taken : other));
	return {
		...line,
		pointRadius: each(7, 3),
		pointStyle: each('rectRot', 'circle'),
		pointBorderWidth: each(2.2, 1),
		pointBorderColor: own,
		pointBackgroundColor: each('transparent', own)
	};
}

/** The stretch of x that is asked for, as a wash, and the wanted y as a dashed line. */
function rangePlugin({ range, wanted }: AimChart, { ink }: ChartStyle): Plugin<'line'> {
	return {
		id: 'range',
		beforeDatasetsDraw: ({ ctx, chartArea, scales }) => {
			if (wanted !== undefined) {
				const y = scales.y.getPixelForValue(wanted);
				ctx.save();
				ctx.strokeStyle = ink('--color-warn');
				ctx.setLineDash([5, 4]);
				ctx.beginPath();
				ctx.moveTo(chartArea.left, y);
				ctx.lineTo(chartArea.right, y);
				ctx.stroke();
				ctx.restore();
			}
			if (!range) return;
			const [from, to] = range.map((at) => scales.x.getPixelForValue(at));
			ctx.fillStyle = ink('--color-accent-wash');
			ctx.fillRect(from, chartArea.top, to - from, chartArea.height);
		}
	};
}
