<script lang="ts">
	/** The foot of a table of readings that is drawn a page at a time. */
	interface Props {
		/** How many rows there are. */
		all: number;
		/** How many are drawn. */
		drawn: number;
	}
	let { all, drawn = $bindable() }: Props = $props();

	const PAGE = 60;
</script>

{#if all > drawn}
	<button type="button" class="py-0.5 text-xs text-accent underline" onclick={() => (drawn += PAGE)}
		>{Math.min(PAGE, all - drawn)} more of {all}; the CSV has all of them</button
	>
{/if}
