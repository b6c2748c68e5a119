<script lang="ts">
	import { untrack } from 'svelte';
	import { columnWorkspace, hatch, type Columns, type Pen, type Surface } from '../../wave/index.js';
	import { paintNoMore, paintSoon } from './paintQueue.js';
	import { inksOf } from './inks.js';
	import type { BenchView } from './benchView.svelte.js';
	import { theme } from '../../session/theme.svelte.js';

	/** A canvas as wide as the view that paints one lane, once a frame and only while it is in sight. */
	interface Props {
		view: BenchView;
		/** Paints on what it is given; everything that it reads makes the lane paint anew. */
		paint: (pen: Pen, surface: Surface) => void;
		label: string;
	}
	let { view, paint, label }: Props = $props();

	let canvas: HTMLCanvasElement;
	let height = $state(0);
	let seen = $state(false);
	let workspace: Columns = columnWorkspace(1);

	$effect(() => {
		const watch = new IntersectionObserver((entries) => (seen = entries.at(-1)!.isIntersecting), { rootMargin: '60px' });
		watch.observe(canvas);
		const own = canvas;
		return () => {
			watch.disconnect();
			paintNoMore(own);
		};
	});

	$effect(() => {
		const now = { viewport: view.viewport, height, paint, dark: theme.dark };
		if (!seen) return;
		paintSoon(canvas, () => untrack(() => draw(now)));
	});

	interface Now {
		viewport: BenchView['viewport'];
		height: number;
		paint: Props['paint'];
		dark: boolean;
	}

	function draw({ viewport, height: tall, paint: painter, dark }: Now) {
		const { columns } = viewport;
		if (columns < 2 || tall < 16) return;
		const ratio = devicePixelRatio;
		const context = canvas.getContext('2d')!;
		const [wide, high] = [Math.round(columns * ratio), Math.round(tall * ratio)];
		// A canvas of another size is a new one: that costs more than to wipe it.
		if (canvas.width !== wide || canvas.height !== high) [canvas.width, canvas.height] = [wide, high];
		else {
			context.resetTransform();
			context.clearRect(0, 0, wide, high);
		}
		context.scale(ratio, ratio);
		if (workspace.entry.length < columns) workspace = columnWorkspace(columns);
		const inks = inksOf(canvas, dark);
		painter(context, {
			viewport,
			height: tall,
			inks,
			plan: hatch(context, inks.plan, ratio),
			warn: hatch(context, inks.warn, ratio),
			workspace
		});
	}
</script>

<div class="relative h-full w-full overflow-hidden bg-card graph-paper" bind:clientHeight={height}>
	<canvas bind:this={canvas} class="absolute inset-0 h-full w-full" aria-label={label} data-wave></canvas>
</div>
