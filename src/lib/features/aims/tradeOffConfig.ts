import type { ChartConfiguration, ChartDataset, ScatterDataPoint } from 'chart.js';
import type { Tradeoff } from '../../../core/aims/index.js';
import type { Prescaler } from '../../../core/part/index.js';
import { axisStyle, type ChartStyle } from '../../components/chartStyle.js';
import { decade } from '../../text/index.js';
import { EXACT_PPM, type Dot, type Front } from './tradeoff.js';

/** What the trade-off chart is asked to show. */
export interface ChartAsk {
	question: Tradeoff | undefined;
	prescaler: Prescaler | undefined;
	now: { ticks: number; ppm: number } | undefined;
	tolerance: number | undefined;
	bits: number | undefined;
}

/** The data sets that a press can hit: the best of each prescale, and all others. */
const [EDGE, DOTS] = [1, 2];

function placeOf({ ticks, ppm }: { ticks: number; ppm: number }): ScatterDataPoint {
	return { x: Math.log2(ticks), y: Math.max(Math.abs(ppm), EXACT_PPM) };
}

/** The chart's axes, presses and words; its dots come later. */
export function tradeOffConfig(
	front: Front,
	style: ChartStyle,
	onPress: (dot: Dot, shift: boolean) => void
): ChartConfiguration<'scatter'> {
	const dotAt = (set: number, index: number): Dot | undefined =>
		set === DOTS ? front.dots[index] : set === EDGE ? front.edge[index] : undefined;
	return {
		type: 'scatter',
		data: { datasets: [] },
		options: {
			animation: false,
			parsing: false,
			maintainAspectRatio: false,
			interaction: { mode: 'nearest', intersect: false },
			onClick: ({ native }, elements) => {
				const hit = elements.find(({ datasetIndex }) => datasetIndex === DOTS || datasetIndex === EDGE);
				const dot = hit && dotAt(hit.datasetIndex, hit.index);
				if (dot) onPress(dot, native instanceof MouseEvent && native.shiftKey);
			},
			scales: scales(front, style),
			plugins: {
				tooltip: { displayColors: false, callbacks: { label: ({ datasetIndex, dataIndex }) => dotText(dotAt(datasetIndex, dataIndex)) } },
				legend: { display: false }
			}
		}
	};
}

function scales({ mostBits }: Front, style: ChartStyle) {
	const [x, y] = [axisStyle(style, 'resolution, bits'), axisStyle(style, 'error of the rate, ppm')];
	const label = (value: string | number) => (Number(value) <= EXACT_PPM ? 'exact' : decade(Number(value), true));
	return {
		x: { ...x, type: 'linear' as const, min: 1, max: mostBits, ticks: { ...x.ticks, stepSize: 2 } },
		y: { ...y, type: 'logarithmic' as const, min: EXACT_PPM / 3, max: 1e6, ticks: { ...y.ticks, callback: label } }
	};
}

function dotText(dot: Dot | undefined): string {
	if (!dot) return 'as set';
	return `prescale ${dot.prescale}, reload ${dot.reload}: ${dot.ppm === 0 ? 'exact' : `≈${dot.ppm.toPrecision(3)} ppm`}`;
}

/** What is set, the best of each prescale, all others, and the limits as dashed lines. */
export function tradeOffDots(
	front: Front,
	{ now, tolerance, bits }: Omit<ChartAsk, 'question' | 'prescaler'>,
	{ ink }: ChartStyle
): ChartDataset<'scatter'>[] {
	const line = (points: ScatterDataPoint[], colour: string, dash: number[]): ChartDataset<'scatter'> => ({
		type: 'scatter',
		data: points,
		showLine: true,
		pointRadius: 0,
		borderColor: colour,
		borderWidth: 1.2,
		borderDash: dash
	});
	const limit = (points: [number, number][]) =>
		line(
			points.map(([x, y]) => ({ x, y })),
			ink('--color-warn'),
			[5, 4]
		);
	return [
		{
			data: now ? [placeOf(now)] : [],
			pointRadius: 7,
			pointStyle: 'rectRot',
			borderColor: ink('--color-accent'),
			borderWidth: 2.6,
			backgroundColor: 'transparent',
			pointHoverRadius: 7,
			clip: false
		},
		{ ...line(front.edge.map(placeOf), ink('--color-accent'), []), borderWidth: 2 },
		{ data: front.dots.map(placeOf), pointRadius: 1.7, pointHoverRadius: 4, backgroundColor: ink('--color-soft'), borderWidth: 0 },
		limit(
			tolerance
				? [
						[1, tolerance],
						[front.mostBits, tolerance]
					]
				: []
		),
		limit(
			bits !== undefined && bits > 0
				? [
						[bits, EXACT_PPM],
						[bits, 1e6]
					]
				: []
		)
	];
}
