<script lang="ts">
	import { tick } from 'svelte';
	import { page } from '$app/state';
	import type { JobKind } from '$core/plan/index.js';
	import { addAim, addJob } from '$lib/session/edits';
	import { notices } from '$lib/session/notices.svelte.ts';
	import { openPlan } from '$lib/session/context';
	import { turnsOver } from '$lib/session/turns';
	import AimTabs from '$lib/features/aims/AimTabs.svelte';
	import AimEntry from '$lib/features/aims/AimEntry.svelte';
	import JobEntry from '$lib/features/aims/JobEntry.svelte';

	const { session } = openPlan();

	const aims = $derived(session.plan.aims);
	const pulses = $derived(new Map(session.derivation.aims.map((derivation) => [derivation.aim.id, derivation])));
	const jobs = $derived(new Map(session.derivation.jobs.map((derivation) => [derivation.aim.id, derivation])));
	const KINDS: [JobKind | 'pwm', string][] = [
		['pwm', 'a pulse train (PWM)'],
		['pair', 'a complementary pair with dead time'],
		['follower', 'a follower of another aim'],
		['toggle', 'a clock by toggling'],
		['table', 'a shape on a carrier (table)'],
		['tick', 'a tick at even times'],
		['divided', 'pulses divided in software'],
		['oneshot', 'a pulse after a trigger'],
		['pattern', 'a pattern of words to a port'],
		['capture', 'a rate to measure'],
		['width', 'a pulse width to measure'],
		['encoder', 'an encoder to count']
	];
	let opened = $state<string | undefined>(untrackFirst());

	function untrackFirst(): string | undefined {
		return page.url.hash.slice(1) || session.plan.aims[0]?.id;
	}

	// The address names the aim: a deep link, a finding or a command leads to it.
	$effect(() => {
		const wanted = page.url.hash.slice(1);
		if (wanted) void show(wanted);
	});

	function add(kind: JobKind | 'pwm') {
		const id = kind === 'pwm' ? addAim(session) : addJob(session, kind);
		if (id !== undefined) void show(id);
		else if (kind === 'follower' && session.plan.aims.length === 0) notices.say('A follower needs another aim to follow: add that first.');
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
			add(event.currentTarget.value as JobKind);
			event.currentTarget.value = '';
		}}
	>
		<option value="">{first} …</option>
		{#each KINDS as [kind, text] (kind)}<option value={kind}>{text}</option>{/each}
	</select>
{/snippet}

{#snippet more()}
	<button type="button" class="btn" onclick={() => void show(addAim(session))}>Add an aim</button>
	{@render kinds('Add another kind')}
{/snippet}

<div class="grid h-full grid-rows-[auto_minmax(0,1fr)]">
	<AimTabs planId={session.id} view="aims"><span class="ml-auto">{@render more()}</span></AimTabs>
	<div class="overflow-y-auto" data-testid="aims">
		{#each aims as aim (aim.id)}
			{@const pulse = pulses.get(aim.id)}
			{@const job = jobs.get(aim.id)}
			{@const onOpen = () => (opened = opened === aim.id ? undefined : aim.id)}
			{#if pulse}<AimEntry {session} derivation={pulse} open={opened === aim.id} {onOpen} />
			{:else if job}<JobEntry {session} derivation={job} open={opened === aim.id} {onOpen} />{/if}
		{:else}
			<div class="mx-auto mt-24 max-w-md text-center">
				<p class="font-serif text-lg">An aim is one signal you want: its rate, its duty, its pin.</p>
				<p class="mt-1 mb-4 text-soft">Say it in a sentence, and its prescale, reload and compare follow.</p>
				<button type="button" class="btn-main" onclick={() => void show(addAim(session))}>Add the first aim</button>
				<p class="mt-3 text-[13px] text-soft">or begin with {@render kinds('another kind')}</p>
			</div>
		{/each}
	</div>
</div>
