<script lang="ts">
	import { untrack } from 'svelte';
	import type { Chart } from 'chart.js';
	import type { AimChart, CandidateEdit } from '../../core/aims/index.js';
	import { saveFile, fileName } from './export.js';
	import { theme } from '../session/theme.svelte.js';
	import { breather } from '../session/turns.js';
	import { decade } from '../text/index.js';

	interface Props {
		chart: AimChart;
		name: string;
		/** A candidate was pressed. */
		onTake?: (take: CandidateEdit) => void;
	}
	let { chart: shown, name, onTake }: Props = $props();

	/** Told apart by dash as well as by colour. */
	const DASHES = [[], [6, 3], [2, 3], [8, 3, 2, 3]];
	const INKS = ['--color-accent', '--color-warn', '--color-fault', '--color-soft'];
	const TITLES = {
		step: { title: 'How fine one count is over the rate', x: 'rate, Hz', y: 'one count, %', log: true },
		map: { title: 'What the counts stand for', x: 'count', y: 'value', log: false },
		rows: { title: 'Duty of the rows', x: 'row', y: 'duty, %', log: false },
		range: { title: 'Range against resolution, a press takes one', x: 'finest step, s', y: 'longest, s', log: true },
		error: { title: 'Error against resolution, a press takes one', x: 'ticks an interval', y: 'error, ppm', log: true },
		averaged: { title: 'The averaged signal, one pass', x: 'time, ms', y: 'of the supply, %', log: false },
		spectrum: { title: 'Spectrum', x: 'frequency, Hz', y: 'amplitude, % of the supply', log: true },
		filter: { title: 'Speed against filtering, a press takes one', x: 'filter wants, s', y: 'greatest speed, turns/s', log: true }
	};
	let canvas: HTMLCanvasElement;
	const says = $derived(TITLES[shown.code]);
	const valueTitle = $derived(shown.unit ? `${says.y}, ${shown.unit}` : says.y);

	function labelOf({ label, number }: AimChart['series'][number]): string {
		if (label === 'every') return number === 1 ? 'every edge' : `every ${number} edges`;
		if (label === 'gated') return 'edges counted';
		return label;
	}

	/** Curves alone are only given new points; a chart with more in it is made anew. */
	const bare = $derived(!shown.edits && shown.wanted === undefined && !shown.range ? `${shown.code} ${shown.series.length}` : undefined);
	let live: { chart: Chart; key: string | undefined } | undefined;
	const pointsOf = (points: [number, number][]) => points.map(([x, y]) => ({ x, y }));

	$effect(() => {
		const { series } = shown;
		if (live === undefined || live.key === undefined || live.key !== bare) return;
		live.chart.data.datasets.forEach((set, i) => (set.data = pointsOf(series[i].points)));
		live.chart.update('none');
	});

	$effect(() => {
		void theme.dark;
		const key = bare;
		const { series, range, code, wanted, edits, chosen } = key === undefined ? shown : untrack(() => shown);
		const taken = onTake;
		const { x, log } = says;
		const y = valueTitle;
		let ended = false;
		let destroy: (() => void) | undefined;
		// Each chart in a task of its own: several at once would hold the page up.
		void Promise.all([import('chart.js/auto'), breather()]).then(([{ default: Chart }]) => {
			if (ended) return;
			const style = getComputedStyle(canvas);
			const ink = (variable: string) => style.getPropertyValue(variable).trim();
			const font = { family: style.fontFamily, size: 11 };
			const axis = (title: string, plain = false) => ({
				type: log ? ('logarithmic' as const) : ('linear' as const),
				title: { display: true, text: title, color: ink('--color-soft'), font },
				ticks: {
					color: ink('--color-soft'),
					maxTicksLimit: 7,
					font,
					...(log && { maxRotation: 0, callback: (value: string | number) => decade(Number(value), plain) })
				},
				grid: { color: ink('--color-grid') }
			});
			const chart = new Chart(canvas, {
				type: 'line',
				data: {
					datasets: series.map((one, i) => ({
						label: labelOf(one),
						data: pointsOf(one.points),
						borderColor: ink(INKS[i % INKS.length]),
						borderDash: DASHES[i % DASHES.length],
						borderWidth: 1.8,
						stepped: code === 'rows' || (code === 'averaged' && i > 0),
						showLine: (!edits || code === 'range') && code !== 'spectrum',
						pointRadius: code === 'spectrum' ? 3 : edits ? one.points.map((_, k) => (k === chosen ? 7 : 3)) : 0,
						pointStyle:
							code === 'spectrum'
								? i === 0
									? 'circle'
									: 'rectRot'
								: edits
									? one.points.map((_, k) => (k === chosen ? 'rectRot' : 'circle'))
									: 'circle',
						pointBorderColor: edits ? one.points.map((_, k) => ink(k === chosen ? '--color-fault' : INKS[0])) : ink(INKS[i % INKS.length]),
						pointBackgroundColor: edits
							? one.points.map((_, k) => (k === chosen ? 'transparent' : ink(INKS[0])))
							: ink(INKS[i % INKS.length])
					}))
				},
				plugins: [
					{
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
					}
				],
				options: {
					animation: false,
					maintainAspectRatio: false,
					interaction: { mode: 'nearest', intersect: false },
					onClick: (_, elements) => {
						const take = elements[0] && edits?.[elements[0].index];
						if (take) taken?.(take);
					},
					scales: {
						x: { ...axis(x), ...(log ? {} : { type: 'linear' as const }) },
						y: { ...axis(y, code === 'spectrum'), ...(wanted !== undefined && { suggestedMin: wanted / 2, suggestedMax: wanted * 2 }) }
					},
					plugins: { legend: { display: series.length > 1, labels: { color: ink('--color-ink'), boxHeight: 1, font } } }
				}
			});
			live = { chart, key };
			destroy = () => {
				live = undefined;
				chart.destroy();
			};
		});
		return () => {
			ended = true;
			destroy?.();
		};
	});

	function csv() {
		const rows = shown.series.flatMap((one) => one.points.map(([at, value]) => `${labelOf(one)},${at},${value}`));
		saveFile(`${fileName(name)}-${shown.code}.csv`, [`curve,"${says.x}","${valueTitle}"`, ...rows, ''].join('\n'), 'text/csv');
	}

	function png() {
		canvas.toBlob((blob) => blob && saveFile(`${fileName(name)}-${shown.code}.png`, blob, 'image/png'));
	}
</script>

<div class="mb-1 flex gap-3 text-xs">
	<b class="text-soft">{says.title}</b>
	<button type="button" class="ml-auto underline" onclick={png}>PNG</button>
	<button type="button" class="underline" onclick={csv}>CSV</button>
</div>
<div class="mb-2 h-44 rounded-xs border bg-card p-1">
	<canvas bind:this={canvas} aria-label="{says.title}: {shown.series.map(labelOf).join(', ')}"></canvas>
</div>
