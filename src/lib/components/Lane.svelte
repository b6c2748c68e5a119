<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import type { LevelSource } from '../../core/trace/index.js';
	import { columnWorkspace, hatch, laneScene, paintPlanned, readInks } from '../wave/index.js';
	import { theme } from '../session/theme.svelte.js';

	interface Props {
		/** A planned wave; null draws an empty lane. */
		wave: LevelSource | null;
		/** Seconds shown, from time 0 minus a tenth of them. */
		seconds: number;
		label: string;
	}
	let { wave, seconds, label }: Props = $props();

	let canvas: HTMLCanvasElement;
	let seen = $state(false);
	let width = $state(0);
	let height = $state(0);

	// With many aims most lanes are out of sight: those are drawn when they come into it.
	onMount(() => {
		const watch = new IntersectionObserver((entries) => (seen = entries.at(-1)!.isIntersecting));
		watch.observe(canvas);
		return () => watch.disconnect();
	});

	$effect(() => {
		if (!seen) return;
		void theme.dark;
		const source = wave;
		const span = seconds;
		const [columns, rows] = [Math.floor(width), Math.floor(height)];
		untrack(() => paint(source, span, columns, rows));
	});

	function paint(source: LevelSource | null, span: number, columns: number, rows: number) {
		if (columns < 2 || rows < 2) return;
		const ratio = devicePixelRatio;
		canvas.width = columns * ratio;
		canvas.height = rows * ratio;
		const context = canvas.getContext('2d')!;
		context.scale(ratio, ratio);
		if (!source) return;
		const inks = readInks(canvas);
		const viewport = { start: -0.06 * span * 1e12, perColumn: (1.12 * span * 1e12) / columns, columns };
		const placement = { offsetPs: 0, unitPs: source.unit.toNumber() * 1e12 };
		const items = laneScene(source, placement, viewport, columnWorkspace(columns));
		paintPlanned(context, items, { high: 8, low: rows - 8 }, hatch(context, inks.plan, ratio), inks.plan);
	}
</script>

<div class="relative h-full min-h-10 w-full overflow-hidden bg-card graph-paper" bind:clientWidth={width} bind:clientHeight={height}>
	<canvas bind:this={canvas} class="absolute inset-0 h-full w-full" aria-label={label}></canvas>
</div>
