<script lang="ts">
	/** The foot of a list that is drawn a hundred at a time. */
	interface Props {
		/** How many rows there are. */
		all: number;
		/** How many are drawn. */
		drawn: number;
	}
	let { all, drawn = $bindable() }: Props = $props();

	const PAGE = 100;
</script>

{#if all > drawn}
	<li class="py-2 text-center">
		<button type="button" class="btn" onclick={() => (drawn += PAGE)}>Show {Math.min(PAGE, all - drawn)} more of {all}</button>
	</li>
{/if}
