<script lang="ts">
	import type { Chart as ChartType, ChartDataset, ScatterDataPoint } from 'chart.js';
	import { onDestroy } from 'svelte';
	import { ratioTable } from '../../../core/solve/index.js';
	import type { Prescaler } from '../../../core/part/index.js';
	import type { Tradeoff } from '../../../core/aims/index.js';
	import { breather, inSlices } from '../../session/turns.js';
	import { theme } from '../../session/theme.svelte.js';
	import { decade } from '../../text/index.js';
	import { saveFile, fileName } from '../../components/export.js';
	import { EXACT_PPM, frontDots, frontCsv, type Dot } from './tradeoff.js';

	interface Props {
		question: Tradeoff | undefined;
		prescaler: Prescaler | undefined;
		name: string;
		/** What the dashed lines stand for. */
		limits: string;
		/** The aim that decides here, when it is another. */
		decidedBy: string | undefined;
		onTake: (dot: Dot) => void;
		onCompare: (dot: Dot) => void;
	}
	let { question, prescaler, name, limits, decidedBy, onTake, onCompare }: Props = $props();

	let canvas: HTMLCanvasElement;
	let chart: ChartType | undefined;
	let asked = 0;
	let drawn = false;
	const REST_MS = 180;

	$effect(() => {
		void theme.dark;
		const data = {
			question,
			prescaler,
			now: question?.now && { ticks: question.now.ticks, ppm: question.now.ppm.toNumber() },
			tolerance: question?.tolerance?.toNumber(),
			bits: question?.bits
		};
		// Typing re-derives at every key; the chart waits until the keys rest.
		const mine = ++asked;
		const timer = setTimeout(() => void draw(data, () => mine !== asked), drawn ? REST_MS : 0);
		return () => clearTimeout(timer);
	});
	onDestroy(() => {
		asked++;
		chart?.destroy();
	});

	interface Data {
		question: Tradeoff | undefined;
		prescaler: Prescaler | undefined;
		now: { ticks: number; ppm: number } | undefined;
		tolerance: number | undefined;
		bits: number | undefined;
	}

	async function draw({ question: asks, prescaler: of, now, tolerance, bits }: Data, late: () => boolean) {
		const { Chart, ScatterController, LinearScale, LogarithmicScale, PointElement, LineElement, Tooltip } = await import('chart.js');
		await breather();
		const front = asks && of ? await inSlices(frontDots(asks, ratioTable(of)), late) : undefined;
		await breather();
		if (late()) return;
		drawn = true;
		Chart.register(ScatterController, LinearScale, LogarithmicScale, PointElement, LineElement, Tooltip);
		chart?.destroy();
		if (!front) return;
		const style = getComputedStyle(canvas);
		const colour = (name: string) => style.getPropertyValue(name).trim();
		const at = (dot: Dot): ScatterDataPoint => ({ x: Math.log2(dot.ticks), y: Math.max(Math.abs(dot.ppm), EXACT_PPM) });
		const line = (points: ScatterDataPoint[], ink: string, dash: number[]) => ({
			type: 'scatter' as const,
			data: points,
			showLine: true,
			pointRadius: 0,
			borderColor: ink,
			borderWidth: 1.2,
			borderDash: dash
		});
		const font = { family: 'Atkinson Hyperlegible', size: 11 };
		const datasets: ChartDataset<'scatter'>[] = [
			{
				data: now ? [{ x: Math.log2(now.ticks), y: Math.max(Math.abs(now.ppm), EXACT_PPM) }] : [],
				pointRadius: 7,
				pointStyle: 'rectRot',
				borderColor: colour('--color-fault'),
				borderWidth: 2.2,
				backgroundColor: 'transparent',
				pointHoverRadius: 7,
				clip: false
			},
			{ ...line(front.edge.map(at), colour('--color-accent'), []), borderWidth: 2 },
			{ data: front.dots.map(at), pointRadius: 1.7, pointHoverRadius: 4, backgroundColor: colour('--color-soft'), borderWidth: 0 },
			line(
				tolerance
					? [
							{ x: 1, y: tolerance },
							{ x: front.mostBits, y: tolerance }
						]
					: [],
				colour('--color-warn'),
				[5, 4]
			),
			line(
				bits !== undefined && bits > 0
					? [
							{ x: bits, y: EXACT_PPM },
							{ x: bits, y: 1e6 }
						]
					: [],
				colour('--color-warn'),
				[5, 4]
			)
		];
		// The axes first, the dots at the page's next turn.
		const fresh = new Chart<'scatter'>(canvas, {
			type: 'scatter',
			data: { datasets: [] },
			options: {
				animation: false,
				parsing: false,
				maintainAspectRatio: false,
				interaction: { mode: 'nearest', intersect: false },
				onClick: ({ native }, elements) => {
					const hit = elements.find((e) => e.datasetIndex === 2 || e.datasetIndex === 1);
					const dot = hit && (hit.datasetIndex === 2 ? front.dots : front.edge)[hit.index];
					if (!dot) return;
					if (native instanceof MouseEvent && native.shiftKey) onCompare(dot);
					else if (decidedBy === undefined) onTake(dot);
				},
				scales: {
					x: {
						type: 'linear',
						min: 1,
						max: front.mostBits,
						title: { display: true, text: 'resolution, bits', color: colour('--color-soft'), font },
						ticks: { color: colour('--color-soft'), font, stepSize: 2 },
						grid: { color: colour('--color-grid') }
					},
					y: {
						type: 'logarithmic',
						min: EXACT_PPM / 3,
						max: 1e6,
						title: { display: true, text: 'error of the rate, ppm', color: colour('--color-soft'), font },
						ticks: {
							color: colour('--color-soft'),
							font,
							callback: (value) => (Number(value) <= EXACT_PPM ? 'exact' : decade(Number(value), true))
						},
						grid: { color: colour('--color-grid') }
					}
				},
				plugins: {
					tooltip: {
						displayColors: false,
						callbacks: {
							label: ({ datasetIndex, dataIndex }) => {
								const dot = datasetIndex === 2 ? front.dots[dataIndex] : datasetIndex === 1 ? front.edge[dataIndex] : undefined;
								return dot
									? `prescale ${dot.prescale}, reload ${dot.reload}: ${dot.ppm === 0 ? 'exact' : `≈${dot.ppm.toPrecision(3)} ppm`}`
									: 'as set';
							}
						}
					},
					legend: { display: false }
				}
			}
		});
		chart = fresh;
		await breather();
		if (late()) return;
		fresh.data.datasets = datasets;
		fresh.update('none');
	}

	function saveData() {
		if (question && prescaler) saveFile(`${fileName(name)}-settings.csv`, frontCsv(question, ratioTable(prescaler)), 'text/csv');
	}

	function savePicture() {
		canvas.toBlob((blob) => blob && saveFile(`${fileName(name)}-settings.png`, blob, 'image/png'));
	}
</script>

<figure class="flex min-w-0 flex-col">
	<figcaption class="mb-1 flex items-center gap-2 text-xs text-soft">
		<b class="shrink-0">Every other setting</b>
		<span class="truncate">
			{decidedBy === undefined ? `click to take one, with Shift to compare. Dashed: ${limits}` : `decided by ${decidedBy}`}
		</span>
		<span class="ml-auto flex shrink-0 gap-2">
			<button type="button" class="underline hover:text-accent" onclick={savePicture}>PNG</button>
			<button type="button" class="underline hover:text-accent" onclick={saveData}>CSV</button>
		</span>
	</figcaption>
	<div class="relative h-64 rounded-xs border bg-card p-1">
		<canvas bind:this={canvas} aria-label="Rate error against resolution for every prescale of {name}"></canvas>
		{#if !question || !prescaler}<p class="absolute inset-0 flex items-center justify-center text-soft">
				No clock or no rate to try settings for.
			</p>{/if}
	</div>
</figure>
