<script lang="ts">
	import type { Snippet } from 'svelte';
	import { inTurn } from '../../session/turns.js';

	interface Props {
		id: string;
		testid: string;
		name: string;
		open: boolean;
		/** A message at a field may stand out of it. */
		marked: boolean;
		/** Far out of sight only its name is there: a plan may have hundreds. */
		lazy: boolean;
		children: Snippet;
	}
	let { id, testid, name, open, marked, lazy, children }: Props = $props();

	const MARGIN = '700px 0px';
	let element: HTMLElement;
	let near = $state(false);
	let focused = $state(false);
	/** Its turn to be put up has come. */
	let due = $state(false);
	let height = $state(190);
	const there = $derived(due && (!lazy || near || open || focused));

	$effect(() => inTurn(() => (due = true)));
	$effect(() => {
		if (!lazy) return;
		const observer = new IntersectionObserver(
			([entry]) => {
				if (near && !entry.isIntersecting) height = entry.boundingClientRect.height;
				near = entry.isIntersecting;
			},
			{ rootMargin: MARGIN }
		);
		observer.observe(element);
		return () => observer.disconnect();
	});
</script>

<article
	bind:this={element}
	{id}
	class={['border-b px-5 py-4', !lazy && !marked && '[contain-intrinsic-size:auto_12rem] [content-visibility:auto]', open && 'bg-card/60']}
	style:min-height={there ? undefined : `${height}px`}
	data-testid={testid}
	onfocusin={() => (focused = true)}
	onfocusout={(event) => (focused = element.contains(event.relatedTarget as Node | null))}
>
	<h2 class={there ? 'sr-only' : 'font-serif text-[16.5px] font-normal text-soft'}>{name}</h2>
	{#if there}{@render children()}{/if}
</article>
