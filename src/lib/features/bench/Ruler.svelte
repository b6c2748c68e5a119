<script lang="ts">
	import type { BenchView } from './benchView.svelte.js';
	import { rulerMarks, tickMarks } from '../../wave/index.js';

	/** `tickPs`: picoseconds of a timer's tick; undefined: the ruler is in time. */
	let { view, tickPs }: { view: BenchView; tickPs?: number | undefined } = $props();

	const marks = $derived(tickPs ? tickMarks(view.viewport, view.zero, tickPs, 110) : rulerMarks(view.viewport, view.zero, 110));
</script>

<div class="relative h-6 overflow-hidden border-b num text-[11px] text-soft" aria-hidden="true" data-testid="ruler">
	{#each marks as mark, i (i)}
		<span class="absolute bottom-0 h-2 border-l border-(--color-soft)" style:left="{mark.x}px"></span>
		<span class="absolute top-0.5 whitespace-nowrap" style:left="{mark.x + 4}px">{mark.label}</span>
	{/each}
</div>
