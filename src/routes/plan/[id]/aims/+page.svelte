<script lang="ts">
	import { tick } from 'svelte';
	import { page } from '$app/state';
	import { addAim } from '$lib/state/edits';
	import { openPlan } from '$lib/state/context';
	import AimEntry from '$lib/ui/AimEntry.svelte';

	const { session } = openPlan();

	const aims = $derived(session.derivation.aims);
	let opened = $state<string | undefined>(untrackFirst());

	function untrackFirst(): string | undefined {
		return page.url.hash.slice(1) || session.plan.aims[0]?.id;
	}

	// The address names the aim: a deep link, a finding or a command leads to it.
	$effect(() => {
		const wanted = page.url.hash.slice(1);
		if (wanted) void show(wanted);
	});

	async function show(id: string) {
		opened = id;
		await tick();
		document.getElementById(id)?.scrollIntoView({ block: 'nearest' });
	}
</script>

<div class="h-full overflow-y-auto" data-testid="aims">
	{#each aims as derivation (derivation.aim.id)}
		<AimEntry
			{session}
			{derivation}
			open={opened === derivation.aim.id}
			onOpen={() => (opened = opened === derivation.aim.id ? undefined : derivation.aim.id)}
		/>
	{:else}
		<div class="mx-auto mt-24 max-w-md text-center">
			<p class="font-serif text-lg">An aim is one signal you want: its rate, its duty, its pin.</p>
			<p class="mt-1 mb-4 text-soft">Say it in a sentence, and its prescale, reload and compare follow.</p>
			<button type="button" class="btn-main" onclick={() => void show(addAim(session))}>Add the first aim</button>
		</div>
	{/each}
	{#if aims.length > 0}
		<div class="px-5 py-4">
			<button type="button" class="btn" onclick={() => void show(addAim(session))}>Add an aim</button>
		</div>
	{/if}
</div>
