<script lang="ts">
	import type { BenchView } from '../state/view.svelte.js';
	import { rulerMarks } from '../wave/index.js';

	let { view }: { view: BenchView } = $props();

	const marks = $derived(rulerMarks(view.viewport, view.zero, 110));
</script>

<div class="relative h-6 overflow-hidden border-b num text-[11px] text-soft" aria-hidden="true">
	{#each marks as mark, i (i)}
		<span class="absolute bottom-0 h-2 border-l border-(--color-soft)" style:left="{mark.x}px"></span>
		<span class="absolute top-0.5 whitespace-nowrap" style:left="{mark.x + 4}px">{mark.label}</span>
	{/each}
</div>
