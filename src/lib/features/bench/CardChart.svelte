<script lang="ts">
	import type { Chart, ChartConfiguration } from 'chart.js';
	import type { Seconds } from '../../../core/exact/index.js';
	import { csvRow } from '../../../core/formats/index.js';
	import type { WireCard } from '../../../workers/benchWire.js';
	import { fileName, saveFile } from '../../components/export.js';
	import { axisStyle, chartStyle } from '../../components/chartStyle.js';
	import { theme } from '../../session/theme.svelte.js';
	import { cardScale, cardUnit, quantityText } from '../../text/index.js';

	/** The values of one card: how often which comes, and how they go over time. A press on a bar or a point goes there. */
	interface Props {
		card: WireCard;
		title: string;
		/** What each value is known to. */
		known: Seconds | undefined;
		/** Seconds of a unit of the line. */
		unitS: number;
		onShow: (units: number) => void;
		/** To the next value behind, or before, where one is. */
		onStep: (by: 1 | -1) => void;
		/** A stretch of time was brushed over, in units. */
		onWindow: (from: number, to: number) => void;
	}
	let { card, title, known, unitS, onShow, onStep, onWindow }: Props = $props();

	let shows = $state<'often' | 'trend'>('often');
	let canvas: HTMLCanvasElement;

	$effect(() => {
		void theme.dark;
		const { bins, trend, kind } = card;
		const often = shows === 'often';
		const { scale, unit } = scaled(kind, Math.max(Math.abs(bins.from), Math.abs(bins.to)));
		let ended = false;
		let chart: Chart | undefined;
		void import('chart.js/auto').then(({ default: ChartJs }) => {
			if (ended) return;
			const style = chartStyle(canvas);
			const width = (bins.to - bins.from) / bins.counts.length;
			const values = unit === '' ? 'value' : `value (${unit})`;
			const options = {
				animation: false,
				maintainAspectRatio: false,
				plugins: { legend: { display: false } },
				onClick: (_: unknown, hit: { index: number }[]) => {
					const at = hit.length > 0 ? (often ? bins.firstAt : trend.map((point) => point.at))[hit[0].index] : NaN;
					if (!Number.isNaN(at)) onShow(at);
				}
			} as const;
			const bars: ChartConfiguration<'bar'> = {
				type: 'bar',
				data: {
					labels: bins.counts.map((_, i) => Number(((bins.from + (i + 0.5) * width) * scale).toPrecision(5))),
					datasets: [{ data: bins.counts, backgroundColor: style.ink('--color-ink'), barPercentage: 1, categoryPercentage: 1 }]
				},
				options: { ...options, scales: { x: axisStyle(style, values), y: axisStyle(style, 'how often') } }
			};
			const points: ChartConfiguration<'scatter'> = {
				type: 'scatter',
				data: {
					datasets: [
						{
							data: trend.map(({ at, value }) => ({ x: at * unitS, y: value * scale })),
							showLine: true,
							borderColor: style.ink('--color-ink'),
							borderWidth: 1,
							pointRadius: trend.length > 120 ? 0 : 2,
							pointHitRadius: 8
						}
					]
				},
				options: { ...options, scales: { x: axisStyle(style, 'recorded time (s)'), y: axisStyle(style, values) } }
			};
			chart = often ? new ChartJs(canvas, bars) : new ChartJs(canvas, points);
			drawn = often ? undefined : chart;
		});
		return () => {
			ended = true;
			drawn = undefined;
			chart?.destroy();
		};
	});

	/** The chart over time, while it is drawn. */
	let drawn: Chart | undefined;
	/** What is being brushed over, in pixels of the chart. */
	let brush = $state<{ from: number; to: number } | undefined>();
	const LEAST_BRUSH = 4;

	function onDown(event: PointerEvent & { currentTarget: HTMLElement }) {
		if (!drawn || event.button !== 0) return;
		event.currentTarget.setPointerCapture(event.pointerId);
		brush = { from: event.offsetX, to: event.offsetX };
	}

	function onUp() {
		if (!brush || !drawn) return;
		const ends = [brush.from, brush.to].sort((a, b) => a - b);
		brush = undefined;
		if (ends[1] - ends[0] < LEAST_BRUSH) return;
		const [from, to] = ends.map((x) => (drawn!.scales.x.getValueForPixel(x) ?? 0) / unitS);
		onWindow(from, to);
	}

	/** A unit in which values of this size are short numbers. */
	function scaled(kind: WireCard['kind'], size: number): { scale: number; unit: string } {
		const unit = cardUnit(kind);
		if (kind === 'ratio' || kind === 'slew') return { scale: cardScale(kind).toNumber(), unit };
		if ((kind !== 'time' && kind !== 'rate') || !(size > 0)) return { scale: 1, unit };
		const step = Math.min(2, Math.max(-4, Math.floor(Math.log10(size) / 3)));
		return { scale: 10 ** (-3 * step), unit: `${['p', 'n', 'µ', 'm', '', 'k', 'M'][step + 4]}${unit}` };
	}

	function csv() {
		const rows = card.trend.map(({ at, value }) => csvRow([at * unitS, value]));
		saveFile(
			`${fileName(title)}.csv`,
			[csvRow(['recorded time (s)', `${title} (${cardUnit(card.kind) || '1'})`]), ...rows, ''].join('\n'),
			'text/csv'
		);
	}

	function png() {
		canvas.toBlob((blob) => blob && saveFile(`${fileName(title)}.png`, blob, 'image/png'));
	}
</script>

<div class="flex h-full flex-col">
	<div class="flex flex-wrap items-center gap-x-2 gap-y-0.5 text-xs [&_button]:whitespace-nowrap">
		<b class="basis-full truncate">{title}</b>
		<span class="inline-flex shrink-0">
			<button
				type="button"
				class="btn rounded-r-none px-1.5 py-0"
				aria-label="To the value before"
				title="To the one before"
				onclick={() => onStep(-1)}>‹</button
			>
			<button
				type="button"
				class="btn rounded-l-none border-l-0 px-1.5 py-0"
				aria-label="To the next value"
				title="To the next"
				onclick={() => onStep(1)}>›</button
			>
		</span>
		<button
			type="button"
			class={shows === 'often' ? 'font-bold text-accent' : 'underline'}
			aria-pressed={shows === 'often'}
			onclick={() => (shows = 'often')}>how often</button
		>
		<button
			type="button"
			class={shows === 'trend' ? 'font-bold text-accent' : 'underline'}
			aria-pressed={shows === 'trend'}
			onclick={() => (shows = 'trend')}>over time</button
		>
		<button type="button" class="ml-auto underline" onclick={png}>PNG</button>
		<button type="button" class="underline" onclick={csv}>CSV</button>
	</div>
	<div
		class="relative mt-1 min-h-0 flex-1 touch-none"
		role="presentation"
		title={shows === 'trend' ? 'Drag over a stretch of time to look at it' : ''}
		onpointerdown={onDown}
		onpointermove={(event) => brush && (brush = { ...brush, to: event.offsetX })}
		onpointerup={onUp}
		onpointercancel={() => (brush = undefined)}
	>
		{#if brush}
			<div
				class="pointer-events-none absolute inset-y-0 border-x border-accent bg-accent/15"
				style:left="{Math.min(brush.from, brush.to)}px"
				style:width="{Math.abs(brush.to - brush.from)}px"
			></div>
		{/if}
		<canvas bind:this={canvas} aria-label="{title}: {shows === 'often' ? 'how often which value comes' : 'over time'}"></canvas>
	</div>
	{#if known}<p class="text-[11px] text-soft">
			Edges are known to {quantityText(known, 's', 3)}; the spread is rounded. What an end of the window cuts, or an unknown level touches,
			does not count.
		</p>{/if}
</div>
