<script lang="ts">
	import type { Mapping } from '../../../core/plan/index.js';
	import type { PlanCheck } from '../../session/planCheck.svelte.js';
	import { mistakeText, whereText } from '../../text/index.js';

	/** Mistakes that would change a recorded line, those that explain it first, each to be pinned to the waves. */
	let { check, mapping, href }: { check: PlanCheck; mapping: Mapping; href: string } = $props();

	/** More are told at Check. */
	const MOST = 6;
	const rows = $derived(check.rowsOf(mapping));
	const explaining = $derived(rows.filter(({ explains }) => explains));
	const told = $derived((explaining.length > 0 ? explaining : rows).slice(0, MOST));
	const heading = $derived(
		explaining.length > 0 ? 'mistakes that explain it, likeliest first' : rows.length > 0 ? 'none explains it; the nearest' : ''
	);
</script>

<section class="px-3 pb-2" aria-label="Suspects" data-testid="suspects">
	<h2 class="mb-1 flex items-baseline gap-2 text-[13px] font-bold">
		Suspects <span class="font-normal text-soft">{heading}</span>
		<a class="ml-auto text-[12px] font-normal text-accent underline" {href}>the evidence</a>
	</h2>
	<ul class="grid gap-1 text-[12.5px]">
		{#each told as row, i (i)}
			{@const pinned = check.isPinned(row)}
			<li class={['flex items-start gap-2 rounded-xs border px-2 py-0.5', pinned && 'border-warn bg-warn-wash']}>
				<span class="min-w-0 flex-1">
					{mistakeText(row.codes)} <span class="text-[11px] text-soft">{row.where.map(whereText).join('; ')}</span>
				</span>
				<button
					type="button"
					class="shrink-0 text-accent underline"
					aria-pressed={pinned}
					title="Draw the waves it would make"
					onclick={() => check.pin(row)}>{pinned ? 'unpin' : 'pin'}</button
				>
			</li>
		{:else}
			<li class="text-soft">
				{#if check.state.kind === 'loading' || check.state.kind === 'idle'}
					Looking for them …
				{:else if check.state.kind === 'failed'}
					They could not be looked for: {check.state.reason}
				{:else}
					No mistake known here comes near these waves.
				{/if}
			</li>
		{/each}
	</ul>
</section>
