<script lang="ts">
	import type { Link } from '../../core/part/index.js';

	let { links }: { links: readonly Link[] | undefined } = $props();
</script>

{#if links && links.length > 0}
	<p class="text-[12.5px]">
		<span class="text-soft">see</span>
		{#each links as link, i (i)}{i > 0 ? ', ' : ''}<a
				class="text-accent underline"
				href={link.page === undefined ? link.address : `${link.address}#page=${link.page}`}
				target="_blank"
				rel="noreferrer"
				>{link.title}{#if link.page !== undefined}, page {link.page}{/if}</a
			>{/each}
	</p>
{/if}
