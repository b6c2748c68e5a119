<script lang="ts">
	import type { Chart } from 'chart.js';
	import type { PlainCheck } from '../../../core/suspects/index.js';
	import { axisStyle, chartStyle } from '../../components/chartStyle.js';
	import { theme } from '../../session/theme.svelte.js';

	/** How far a recording's edges lie from their places: how often which distance comes. */
	let { errors, name }: { errors: NonNullable<PlainCheck['alignment'][number]['errors']>; name: string } = $props();

	let canvas: HTMLCanvasElement;
	const SCALES: [number, string][] = [
		[1e-3, 'ms'],
		[1e-6, 'us'],
		[1e-9, 'ns'],
		[1e-12, 'ps']
	];

	$effect(() => {
		void theme.dark;
		const { from_s: from, width_s: width, counts } = errors;
		const [size, unit] = SCALES.find(([each]) => -from >= each) ?? SCALES[SCALES.length - 1];
		let ended = false;
		let chart: Chart | undefined;
		void import('chart.js/auto').then(({ default: ChartJs }) => {
			if (ended) return;
			const style = chartStyle(canvas);
			chart = new ChartJs(canvas, {
				type: 'bar',
				data: {
					// Bins lie around 0: the middle one is there.
					labels: counts.map((_, i) => Number((((i - (counts.length - 1) / 2) * width) / size).toPrecision(3))),
					datasets: [{ data: counts, backgroundColor: style.ink('--color-ink'), barPercentage: 1, categoryPercentage: 1 }]
				},
				options: {
					animation: false,
					maintainAspectRatio: false,
					plugins: { legend: { display: false } },
					scales: { x: axisStyle(style, `edges, late by (${unit})`), y: { ...axisStyle(style, 'how many'), beginAtZero: true } }
				}
			});
		});
		return () => {
			ended = true;
			chart?.destroy();
		};
	});
</script>

<div class="h-28 max-w-140" role="img" aria-label="How far the edges of {name} lie from their places">
	<canvas bind:this={canvas}></canvas>
</div>
