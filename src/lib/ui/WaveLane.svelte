<script lang="ts">
	import { untrack } from 'svelte';
	import type { Disagreement, LevelSource, PeriodicWave } from '../../core/trace/index.js';
	import {
		columnWorkspace,
		hatch,
		laneScene,
		paintDisagreement,
		paintMeasured,
		paintPlanned,
		readInks,
		type Columns,
		type Placement
	} from '../wave/index.js';
	import type { BenchView } from '../state/view.svelte.js';
	import { theme } from '../state/theme.svelte.js';

	interface Props {
		view: BenchView;
		planned: PeriodicWave | null;
		/** Plan time, in picoseconds, of the planned wave's time 0. */
		plannedPs?: number;
		measured: LevelSource | undefined;
		/** The measured line's time, in picoseconds, at plan time 0. */
		shiftPs: number;
		/** Where the measured line begins and ends, in plan time; nothing is drawn of it beyond. */
		extent: [number, number] | undefined;
		disagreement: Disagreement | undefined;
		/** A what-if: hatched in the colour of warnings. */
		suspect?: boolean;
		label: string;
	}
	let { view, planned, plannedPs = 0, measured, shiftPs, extent, disagreement, suspect = false, label }: Props = $props();

	let canvas: HTMLCanvasElement;
	let height = $state(0);
	let workspace: Columns = columnWorkspace(1);
	let frame = 0;

	$effect(() => {
		// All that the picture depends on, read before anything is drawn; one drawing a frame.
		const now = { viewport: view.viewport, planned, plannedPs, measured, shiftPs, extent, disagreement, height, dark: theme.dark };
		cancelAnimationFrame(frame);
		frame = requestAnimationFrame(() => untrack(() => paint(now)));
		return () => cancelAnimationFrame(frame);
	});

	interface Now {
		viewport: BenchView['viewport'];
		planned: PeriodicWave | null;
		plannedPs: number;
		measured: LevelSource | undefined;
		shiftPs: number;
		extent: [number, number] | undefined;
		disagreement: Disagreement | undefined;
		height: number;
	}

	function paint({ viewport, planned, plannedPs, measured, shiftPs, extent, disagreement, height }: Now) {
		const { columns } = viewport;
		if (columns < 2 || height < 20) return;
		const ratio = devicePixelRatio;
		canvas.width = columns * ratio;
		canvas.height = height * ratio;
		const context = canvas.getContext('2d')!;
		context.scale(ratio, ratio);
		if (workspace.entry.length < columns) workspace = columnWorkspace(columns);
		const inks = readInks(canvas);
		const band = { high: 13, low: height - 13 };
		if (planned) {
			const placement: Placement = { offsetPs: plannedPs, unitPs: planned.unit.toNumber() * 1e12 };
			const colour = suspect ? inks.warn : inks.plan;
			paintPlanned(context, laneScene(planned, placement, viewport, workspace), band, hatch(context, colour, ratio), colour);
		}
		if (!measured || !extent) return;
		const [from, to] = extent.map((time) => (time - viewport.start) / viewport.perColumn);
		context.beginPath();
		context.rect(from, 0, to - from, height);
		context.clip();
		const unit = measured.unit.toNumber() * 1e12;
		if (disagreement) {
			const units = (column: number) => (viewport.start + column * viewport.perColumn + shiftPs) / unit;
			paintDisagreement(context, columns, (column) => disagreement.share(units(column), units(column + 1)), band, inks.fault);
		}
		paintMeasured(context, laneScene(measured, { offsetPs: -shiftPs, unitPs: unit }, viewport, workspace), band, inks.ink);
	}
</script>

<div class="relative h-full w-full overflow-hidden bg-card graph-paper" bind:clientHeight={height}>
	<canvas bind:this={canvas} class="absolute inset-0 h-full w-full" aria-label={label} data-wave></canvas>
</div>
