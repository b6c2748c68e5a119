<script lang="ts">
	import type { PlanSession } from '../../session/session.svelte.js';
	import type { BenchModel } from './bench.svelte.js';
	import InstrumentsTable from './InstrumentsTable.svelte';
	import { addSweep } from './readingEdits.js';
	import ReadingsTable from './ReadingsTable.svelte';
	import SweepPanel from './SweepPanel.svelte';

	/** Readings that were typed, sweeps of readings against what was set, and the instruments that they come from. */
	let { session, bench }: { session: PlanSession; bench: BenchModel } = $props();

	const { sweeps, readings, instruments } = $derived(session.plan);
	let chosen = $state('readings');
	const sweep = $derived(sweeps.find(({ id }) => id === chosen));
	const at = $derived(sweep || chosen === 'instruments' ? chosen : 'readings');
</script>

<section class="grid h-[23rem] grid-cols-[10.5rem_minmax(0,1fr)] border-t bg-card/60" aria-label="Readings" data-testid="readings">
	<nav class="flex min-h-0 flex-col overflow-y-auto border-r py-1 text-[13px]" aria-label="Readings and sweeps">
		{@render entry('readings', 'Readings', readings.length)}
		{#each sweeps as one (one.id)}{@render entry(one.id, one.name || 'unnamed sweep', one.rows.length)}{/each}
		{@render entry('instruments', 'Instruments', instruments.length)}
		<button
			type="button"
			class="mt-1 px-3 py-1 text-left text-[12px] text-accent underline"
			onclick={() => (chosen = addSweep(session) ?? chosen)}>Add a sweep</button
		>
		<button type="button" class="mt-auto px-3 py-1 text-left text-[12px] text-soft underline" onclick={() => (bench.lower = 'verdict')}
			>Close</button
		>
	</nav>
	{#if sweep}
		{#key sweep.id}<SweepPanel {session} {sweep} />{/key}
	{:else if at === 'instruments'}
		<InstrumentsTable {session} />
	{:else}
		<ReadingsTable {session} />
	{/if}
</section>

{#snippet entry(id: string, name: string, count: number)}
	<button
		type="button"
		class={['flex items-baseline gap-2 px-3 py-1 text-left', at === id ? 'bg-accent-wash font-bold text-accent' : 'hover:text-accent']}
		aria-current={at === id ? 'true' : undefined}
		onclick={() => (chosen = id)}
	>
		<span class="min-w-0 truncate">{name}</span><span class="ml-auto num text-[11px] text-soft">{count}</span>
	</button>
{/snippet}
