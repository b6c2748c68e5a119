<script lang="ts">
	import Glyph from '../../components/Glyph.svelte';

	let { none, onStep }: { none: boolean; onStep: (by: 1 | -1) => void } = $props();
</script>

{#each [['Previous finding', '[', -1, 'previous'], ['Next finding', ']', 1, 'next']] as const as [label, key, by, glyph] (key)}
	<button type="button" class="hover:text-accent" disabled={none} aria-label={label} title="{label} ( {key} )" onclick={() => onStep(by)}
		><Glyph name={glyph} size={16} /></button
	>
{/each}
