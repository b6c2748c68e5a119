<script lang="ts">
	import { onMount } from 'svelte';
	import equal from 'fast-deep-equal';
	import { readInstrument, readRate } from '../../../core/aims/index.js';
	import type { Instrument } from '../../../core/plan/index.js';
	import { call } from '../../session/api.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import TypedField from '../../components/TypedField.svelte';
	import { problemText } from '../../text/index.js';
	import { addInstrument, removeInstrument, usesInstrument } from './readingEdits.js';

	/** Instruments of this plan, and those of other plans, which can be taken. */
	let { session }: { session: PlanSession } = $props();

	const instruments = $derived(session.plan.instruments);
	let shelf = $state.raw<Instrument[]>([]);
	const others = $derived(shelf.filter(({ id }) => !instruments.some((one) => one.id === id)));
	const newer = (one: Instrument) => shelf.find((other) => other.id === one.id && !equal(other, one));

	onMount(() => {
		call<Instrument[]>('GET', `/api/instruments?but=${session.id}`).then(
			(found) => (shelf = found),
			() => undefined
		);
	});

	const FIELDS = [
		{ field: 'name', name: 'Name', width: 18 },
		{ field: 'time', name: 'Error of its time base', width: 9 },
		{ field: 'amplitude', name: 'Error of an amplitude', width: 9 },
		{ field: 'lowest', name: 'Believed from', width: 9 },
		{ field: 'highest', name: 'to', width: 9 }
	] as const;

	function problem(field: (typeof FIELDS)[number]['field'], text: string): string | undefined {
		if (text.trim() === '' || field === 'name' || field === 'amplitude') return undefined;
		const read = field === 'time' ? readInstrument(text) : readRate(text);
		return read.ok ? undefined : problemText(read.problem);
	}

	const set = (i: number, field: string, text: string, first: boolean) =>
		session.set(['instruments', i, field], text, 'change an instrument', !first);
</script>

<div class="flex min-h-0 min-w-0 flex-col">
	<div class="flex items-center gap-3 border-b px-3 py-1.5">
		<h2 class="text-[13px] font-bold">Instruments</h2>
		<button type="button" class="btn text-[12px]" onclick={() => addInstrument(session)}>Add an instrument</button>
	</div>
	<div class="min-h-0 flex-1 overflow-auto px-3">
		{#if instruments.length === 0}
			<p class="mx-auto mt-8 max-w-md text-center text-[13px] text-soft">
				An instrument states how far it can be off, and in which range of rates it can be believed. Readings, sweeps and recordings name it.
			</p>
		{:else}
			<table class="text-[12.5px]">
				<thead>
					<tr class="text-left text-[11px] text-soft [&_th]:py-1 [&_th]:pr-4 [&_th]:font-normal">
						{#each FIELDS as { field, name } (field)}<th>{name}</th>{/each}<th></th>
					</tr>
				</thead>
				<tbody>
					{#each instruments as one, i (one.id)}
						{@const other = newer(one)}
						<tr class="border-t align-baseline [&_td]:py-1 [&_td]:pr-4" data-testid="instrument">
							{#each FIELDS as { field, name, width } (field)}
								<td>
									<TypedField
										small
										least={width}
										label="{name} of instrument {i + 1}"
										value={one[field]}
										problem={problem(field, one[field])}
										onInput={(text, first) => set(i, field, text, first)}
									/>
								</td>
							{/each}
							<td>
								{#if other}
									<button
										type="button"
										class="mr-3 text-accent underline"
										title="{other.name}: {other.time || 'no error stated'}, {other.lowest || '…'} to {other.highest || '…'}"
										onclick={() => session.set(['instruments', i], other, 'take it as another plan has it')}
										>otherwise elsewhere: take that</button
									>
								{/if}
								<button
									type="button"
									class="text-soft hover:text-fault"
									title={usesInstrument(session.plan, one.id) ? 'What it measured stays, and states no error any more' : ''}
									aria-label="Delete {one.name}"
									onclick={() => removeInstrument(session, one.id)}>×</button
								>
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
		{#if others.length > 0}
			<h3 class="mt-3 mb-1 text-[11px] text-soft">On the shelf, from other plans</h3>
			<ul class="flex flex-wrap gap-2">
				{#each others as one (one.id)}
					<li>
						<button type="button" class="btn text-[12px]" onclick={() => addInstrument(session, one)}
							>{one.name || 'unnamed'}{one.time === '' ? '' : `, ${one.time}`}</button
						>
					</li>
				{/each}
			</ul>
		{/if}
	</div>
</div>
