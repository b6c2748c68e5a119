<script lang="ts">
	import Notices from '../../components/Notices.svelte';
	import type { Snippet } from 'svelte';
	import { theme } from '../../session/theme.svelte.js';
	import { slashKey } from './keys.js';
	import Glyph from '../../components/Glyph.svelte';

	type Station = 'plans' | 'clock' | 'aims' | 'relay' | 'bench' | 'check' | 'handoff' | 'parts';

	interface Props {
		/** The station in view. */
		station: Station;
		/** The open plan's id, when there is one. */
		planId?: string;
		top: Snippet;
		foot: Snippet;
		children: Snippet;
	}
	let { station, planId, top, foot, children }: Props = $props();

	let work = $state<HTMLElement>();

	const stations: { id: Station; name: string; href: string }[] = $derived([
		{ id: 'plans', name: 'Plans', href: '/plans' },
		...(planId
			? [
					{ id: 'clock' as const, name: 'Clock', href: `/plan/${planId}/clock` },
					{ id: 'aims' as const, name: 'Aims', href: `/plan/${planId}/aims` },
					{ id: 'relay' as const, name: 'Relay', href: `/plan/${planId}/relay` },
					{ id: 'bench' as const, name: 'Bench', href: `/plan/${planId}/bench` },
					{ id: 'check' as const, name: 'Check', href: `/plan/${planId}/check` },
					{ id: 'handoff' as const, name: 'Handoff', href: `/plan/${planId}/handoff` }
				]
			: []),
		{ id: 'parts', name: 'Parts', href: planId ? `/parts?plan=${planId}` : '/parts' }
	]);
</script>

<svelte:window onkeydown={slashKey} />

<a
	href="#work"
	class="sr-only focus:not-sr-only focus:fixed focus:top-2 focus:left-2 focus:z-50 focus:rounded-xs focus:border focus:bg-card focus:px-3 focus:py-1"
	onclick={(event) => {
		event.preventDefault();
		work?.focus();
	}}>Skip to the work</a
>
<div class="grid h-dvh grid-cols-[4.6rem_minmax(0,1fr)] grid-rows-[2.9rem_minmax(0,1fr)_2rem] print:block print:h-auto">
	<nav aria-label="Stations" class="row-span-3 flex flex-col items-stretch border-r bg-well py-2 print:hidden">
		<div class="mb-3 flex justify-center text-accent" title="Nolvet"><Glyph name="mark" size={30} /></div>
		{#each stations as { id, name, href } (id)}
			<a
				{href}
				aria-current={station === id ? 'page' : undefined}
				class={[
					'relative flex flex-col items-center gap-0.5 px-1 py-2 text-xs',
					station === id ? 'bg-paper font-bold text-accent' : 'text-soft hover:text-accent'
				]}
			>
				{#if station === id}<span class="absolute inset-y-1 left-0 w-1 rounded-r bg-accent"></span>{/if}
				<Glyph name={id} size={24} />
				{name}
			</a>
		{/each}
		<button
			type="button"
			class="mt-auto flex flex-col items-center gap-0.5 py-2 text-xs text-soft hover:text-accent"
			onclick={() => theme.set(!theme.dark)}
		>
			<Glyph name="theme" size={20} />
			{theme.dark ? 'Light' : 'Dark'}
		</button>
	</nav>
	<header class="flex min-w-0 items-center gap-3 border-b bg-card px-3 print:hidden">{@render top()}</header>
	<main bind:this={work} id="work" tabindex="-1" class="min-h-0 min-w-0 overflow-hidden outline-none print:overflow-visible">
		{@render children()}
	</main>
	<footer class="flex min-w-0 items-center border-t bg-card px-3 text-[13px] print:hidden">{@render foot()}</footer>
</div>

<Notices />
