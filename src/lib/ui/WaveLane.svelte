<script lang="ts">
	import { untrack } from 'svelte';
	import type { Disagreement, LevelSource } from '../../core/trace/index.js';
	import {
		columnWorkspace,
		hatch,
		laneScene,
		paintDisagreement,
		paintMarks,
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
		planned: LevelSource | null;
		/** What is planned beyond is not predicted, in plan time. */
		until?: number;
		/** Each edge is an event: a mark instead of a level. */
		marks?: boolean;
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
	let {
		view,
		planned,
		plannedPs = 0,
		until,
		marks = false,
		measured,
		shiftPs,
		extent,
		disagreement,
		suspect = false,
		label
	}: Props = $props();

	let canvas: HTMLCanvasElement;
	let height = $state(0);
	let workspace: Columns = columnWorkspace(1);
	let frame = 0;

	$effect(() => {
		// All that the picture depends on, read before anything is drawn; one drawing a frame.
		const now = { viewport: view.viewport, planned, plannedPs, until, measured, shiftPs, extent, disagreement, height, dark: theme.dark };
		cancelAnimationFrame(frame);
		frame = requestAnimationFrame(() => untrack(() => paint(now)));
		return () => cancelAnimationFrame(frame);
	});

	interface Now {
		viewport: BenchView['viewport'];
		planned: LevelSource | null;
		plannedPs: number;
		until: number | undefined;
		measured: LevelSource | undefined;
		shiftPs: number;
		extent: [number, number] | undefined;
		disagreement: Disagreement | undefined;
		height: number;
	}

	function paint({ viewport, planned, plannedPs, until, measured, shiftPs, extent, disagreement, height }: Now) {
		const { columns } = viewport;
		if (columns < 2 || height < 20) return;
		const ratio = devicePixelRatio;
		canvas.width = columns * ratio;
		canvas.height = height * ratio;
		const context = canvas.getContext('2d')!;
		context.scale(ratio, ratio);
		if (workspace.entry.length < columns) workspace = columnWorkspace(columns);
		const inks = readInks(canvas);
		const band = height < 50 ? { high: 6, low: height - 6 } : { high: 13, low: height - 13 };
		if (planned) {
			const placement: Placement = { offsetPs: plannedPs, unitPs: planned.unit.toNumber() * 1e12 };
			const colour = suspect ? inks.warn : inks.plan;
			const items = laneScene(planned, placement, viewport, workspace);
			context.save();
			if (until !== undefined) {
				const [from, to] = [0, until].map((time) => (time - viewport.start) / viewport.perColumn);
				context.beginPath();
				context.rect(from, 0, to - from, height);
				context.clip();
			}
			if (marks) paintMarks(context, items, band, colour);
			else paintPlanned(context, items, band, hatch(context, colour, ratio), colour);
			context.restore();
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
