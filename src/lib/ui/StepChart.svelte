<script lang="ts">
	import type { StepCurve } from '../../core/plan/index.js';
	import { saveFile, fileName } from '../state/export.js';
	import { theme } from '../state/theme.svelte.js';

	interface Props {
		curves: StepCurve[];
		/** The aim's rates in Hz, marked on the chart. */
		range: [number, number] | undefined;
		name: string;
	}
	let { curves, range, name }: Props = $props();

	/** Told apart by dash as well as by colour. */
	const DASHES = [[], [6, 3], [2, 3], [8, 3, 2, 3]];
	const INKS = ['--color-accent', '--color-warn', '--color-fault', '--color-soft'];
	let canvas: HTMLCanvasElement;

	$effect(() => {
		void theme.dark;
		const shown = curves;
		const marked = range;
		let ended = false;
		let destroy: (() => void) | undefined;
		void import('chart.js/auto').then(({ default: Chart }) => {
			if (ended) return;
			const style = getComputedStyle(canvas);
			const ink = (variable: string) => style.getPropertyValue(variable).trim();
			const font = { family: style.fontFamily, size: 11 };
			const axis = (title: string) => ({
				type: 'logarithmic' as const,
				title: { display: true, text: title, color: ink('--color-soft'), font },
				ticks: { color: ink('--color-soft'), maxTicksLimit: 7, font },
				grid: { color: ink('--color-grid') }
			});
			const chart = new Chart(canvas, {
				type: 'line',
				data: {
					datasets: shown.map(({ every, points }, i) => ({
						label: every === 1 ? 'every edge' : `every ${every} edges`,
						data: points.map(({ hz, step }) => ({ x: hz, y: step * 100 })),
						borderColor: ink(INKS[i % INKS.length]),
						borderDash: DASHES[i % DASHES.length],
						borderWidth: 1.8,
						pointRadius: 0
					}))
				},
				plugins: [
					{
						id: 'range',
						beforeDatasetsDraw: ({ ctx, chartArea, scales }) => {
							if (!marked) return;
							const [from, to] = marked.map((hz) => scales.x.getPixelForValue(hz));
							ctx.fillStyle = ink('--color-accent-wash');
							ctx.fillRect(from, chartArea.top, to - from, chartArea.height);
						}
					}
				],
				options: {
					animation: false,
					maintainAspectRatio: false,
					scales: { x: axis('rate, Hz'), y: axis('one count, %') },
					plugins: { legend: { labels: { color: ink('--color-ink'), boxHeight: 1, font } } }
				}
			});
			destroy = () => chart.destroy();
		});
		return () => {
			ended = true;
			destroy?.();
		};
	});

	function csv() {
		const rows = curves.flatMap(({ every, points }) => points.map(({ hz, step }) => `${every},${hz},${step}`));
		saveFile(`${fileName(name)}-step.csv`, ['every,rate (Hz),relative step', ...rows, ''].join('\n'), 'text/csv');
	}

	function png() {
		canvas.toBlob((blob) => blob && saveFile(`${fileName(name)}-step.png`, blob, 'image/png'));
	}
</script>

<div class="mb-1 flex gap-3 text-xs">
	<b class="text-soft">How fine one count is over the rate</b>
	<button type="button" class="ml-auto underline" onclick={png}>PNG</button>
	<button type="button" class="underline" onclick={csv}>CSV</button>
</div>
<div class="mb-2 h-44 rounded-xs border bg-card p-1">
	<canvas bind:this={canvas} aria-label="Relative step against rate, one curve for every so manieth edge"></canvas>
</div>
