<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { page } from '$app/state';
	import { AIM_KINDS, type AimKindName, aimKind } from '../../../core/aims/index.js';
	import { openPlan } from '../../session/context.js';
	import { addAim } from '../../session/edits.js';
	import { notices } from '../../session/notices.svelte.js';
	import { turnsOver } from '../../session/turns.js';
	import { kindWords } from '../../text/index.js';
	import AimEntry from './AimEntry.svelte';
	import AimTabs from './AimTabs.svelte';

	const { session } = openPlan();

	const aims = $derived(session.plan.aims);
	const derivations = $derived(new Map(session.derivation.aims.map((derivation) => [derivation.aim.id, derivation])));
	let opened = $state<string | undefined>(untrack(() => page.url.hash.slice(1) || session.plan.aims[0]?.id));

	// The address names the aim: a deep link, a finding or a command leads to it.
	$effect(() => {
		const wanted = page.url.hash.slice(1);
		if (wanted) void show(wanted);
	});

	function add(kind: AimKindName) {
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

{#snippet kinds(first: string)}
	<select
		class="plain-select py-1"
		aria-label="Add an aim of another kind"
		value=""
		onchange={(event) => {
			add(event.currentTarget.value as AimKindName);
			event.currentTarget.value = '';
		}}
	>
		<option value="">{first} …</option>
		{#each AIM_KINDS as kind (kind)}<option value={kind}>{kindWords(kind).offer}</option>{/each}
	</select>
{/snippet}

<div class="grid h-full grid-rows-[auto_minmax(0,1fr)]">
	<AimTabs planId={session.id} view="aims">
		<span class="ml-auto">
			<button type="button" class="btn" onclick={() => add('pwm')}>Add an aim</button>
			{@render kinds('Add another kind')}
		</span>
	</AimTabs>
	<div class="overflow-y-auto" data-testid="aims">
		{#each aims as aim (aim.id)}
			{@const derivation = derivations.get(aim.id)}
			{#if derivation}
				<AimEntry {session} {derivation} open={opened === aim.id} onOpen={() => (opened = opened === aim.id ? undefined : aim.id)} />
			{/if}
		{:else}
			<div class="mx-auto mt-24 max-w-md text-center">
				<p class="font-serif text-lg">An aim is one signal you want: its rate, its duty, its pin.</p>
				<p class="mt-1 mb-4 text-soft">Say it in a sentence, and its prescale, reload and compare follow.</p>
				<button type="button" class="btn-main" onclick={() => add('pwm')}>Add the first aim</button>
				<p class="mt-3 text-[13px] text-soft">or begin with {@render kinds('another kind')}</p>
			</div>
		{/each}
	</div>
</div>
