<script lang="ts">
	import type { Snippet } from 'svelte';
	import { inTurn } from '../session/turns.js';

	/** A large part of a page, which comes when its turn has come: so none of them holds the page up. */
	let { children }: { children: Snippet } = $props();

	let there = $state(false);
	$effect(() => inTurn(() => (there = true)));
</script>

{#if there}{@render children()}{/if}
