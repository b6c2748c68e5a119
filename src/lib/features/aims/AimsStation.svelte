<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { page } from '$app/state';
	import Dialog from '../../components/Dialog.svelte';
	import { type AimKindName, aimKind } from '../../../core/aims/index.js';
	import { openPlan } from '../../session/context.js';
	import { addAim } from '../../session/edits.js';
	import { notices } from '../../session/notices.svelte.js';
	import { turnsOver } from '../../session/turns.js';
	import AimEntry from './AimEntry.svelte';
	import AimTabs from './AimTabs.svelte';
	import KindSheet from './KindSheet.svelte';

	const { session } = openPlan();

	const aims = $derived(session.plan.aims);
	const derivations = $derived(new Map(session.derivation.aims.map((derivation) => [derivation.aim.id, derivation])));
	let choosing = $state(false);
	let opened = $state<string | undefined>(untrack(() => page.url.hash.slice(1) || session.plan.aims[0]?.id));

	// The address names the aim: a deep link, a finding or a command leads to it.
	$effect(() => {
		const wanted = page.url.hash.slice(1);
		if (wanted) void show(wanted);
	});

	function add(kind: AimKindName) {
		choosing = false;
		const id = addAim(session, kind);
		if (id !== undefined) void show(id);
		else if (aimKind(kind).leader && session.plan.aims.length === 0) notices.say('A follower needs another aim to follow: add that first.');
		else notices.say(`${session.plan.part.name} has no timer for this.`);
	}

	async function show(id: string) {
		opened = id;
		// What comes up above it may move it once more.
		for (const up of [tick, turnsOver]) {
			await up();
			document.getElementById(id)?.scrollIntoView({ block: 'nearest' });
		}
	}
</script>

<div class="grid h-full grid-rows-[auto_minmax(0,1fr)]">
	<AimTabs planId={session.id} view="aims">
		<span class="ml-auto">
			<button type="button" class="btn" onclick={() => (choosing = true)}>Add an aim</button>
		</span>
	</AimTabs>
	<div class="overflow-y-auto" data-testid="aims">
		{#each aims as aim (aim.id)}
			{@const derivation = derivations.get(aim.id)}
			{#if derivation}
				<AimEntry {session} {derivation} open={opened === aim.id} onOpen={() => (opened = opened === aim.id ? undefined : aim.id)} />
			{/if}
		{:else}
			<div class="mx-auto mt-8 max-w-4xl px-6">
				<p class="font-serif text-lg">An aim is one signal you want. Which shall be the first?</p>
				<p class="mt-1 mb-4 text-soft">Say it in a sentence, and its prescale, reload and compare follow.</p>
				<KindSheet plan={session.plan} onChoose={add} />
			</div>
		{/each}
	</div>
</div>

<Dialog bind:open={choosing} size="lg" label="Kinds of aims">
	<h2 class="font-serif text-xl font-semibold">Which signal do you want?</h2>
	<KindSheet plan={session.plan} onChoose={add} />
	<button type="button" class="text-soft underline hover:text-accent" onclick={() => (choosing = false)}>close</button>
</Dialog>
