<script lang="ts">
	import type { Chart as ChartType } from 'chart.js';
	import { onDestroy } from 'svelte';
	import { ratioTable } from '../../../core/solve/index.js';
	import type { Prescaler } from '../../../core/part/index.js';
	import type { Tradeoff } from '../../../core/aims/index.js';
	import { inSlices, nextTurn } from '../../session/slices.js';
	import { theme } from '../../session/theme.svelte.js';
	import { saveFile, fileName } from '../../components/export.js';
	import { frontDots, frontCsv, type Dot } from './tradeoff.js';
	import { tradeOffConfig, tradeOffDots, type ChartAsk } from './tradeOffConfig.js';
	import { chartStyle } from '../../components/chartStyle.js';

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
	let chart: ChartType<'scatter'> | undefined;
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

	async function draw({ question: asks, prescaler: of, ...data }: ChartAsk, late: () => boolean) {
		const { Chart, ScatterController, LinearScale, LogarithmicScale, PointElement, LineElement, Tooltip } = await import('chart.js');
		await nextTurn();
		const front = asks && of ? await inSlices(frontDots(asks, ratioTable(of)), late) : undefined;
		await nextTurn();
		if (late()) return;
		drawn = true;
		Chart.register(ScatterController, LinearScale, LogarithmicScale, PointElement, LineElement, Tooltip);
		chart?.destroy();
		if (!front) return;
		const style = chartStyle(canvas);
		const pressed = (dot: Dot, shift: boolean) => {
			if (shift) onCompare(dot);
			else if (decidedBy === undefined) onTake(dot);
		};
		// The axes first, the dots at the page's next turn.
		const fresh = new Chart<'scatter'>(canvas, tradeOffConfig(front, style, pressed));
		chart = fresh;
		await nextTurn();
		if (late()) return;
		fresh.data.datasets = tradeOffDots(front, data, style);
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
