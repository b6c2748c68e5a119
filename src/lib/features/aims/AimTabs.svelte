<script lang="ts">
	import type { Snippet } from 'svelte';

	interface Props {
		planId: string;
		view: 'aims' | 'board';
		children?: Snippet;
	}
	let { planId, view, children }: Props = $props();
	const VIEWS = [
		['aims', 'Sentences'],
		['board', 'Board']
	] as const;
</script>

<div class="flex items-center gap-4 border-b px-5 py-1.5 text-[13px]">
	<nav class="flex gap-1" aria-label="Views of the aims">
		{#each VIEWS as [id, name] (id)}
			<a
				href="/plan/{planId}/{id}"
				aria-current={view === id ? 'page' : undefined}
				class={['rounded-xs px-2 py-0.5', view === id ? 'bg-accent-wash font-bold text-accent' : 'text-soft hover:text-accent']}>{name}</a
			>
		{/each}
	</nav>
	{@render children?.()}
</div>
