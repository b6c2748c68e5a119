<script lang="ts">
	import { laneText, mistakeText, roleText } from '../../text/index.js';
	import type { Pinned } from '../../session/planCheck.svelte.js';
	import type { BenchModel } from './bench.svelte.js';
	import type { RecordedLane } from './recordedLane.svelte.js';

	/** The names beside the recorded lanes. */
	let { bench, pinned, onChoose }: { bench: BenchModel; pinned: Pinned | undefined; onChoose: (lane: string) => void } = $props();

	function stateText(lane: RecordedLane): string {
		return lane.state.kind === 'failed' ? 'not loaded' : lane.verdict ? laneText(lane.verdict) : '…';
	}
</script>

<div class="flex h-[27px] w-full items-center border-b bg-well/50 text-[11px] text-soft">
	{#if bench.lanes.length > 0}
		<button
			type="button"
			class="h-full min-w-0 flex-1 truncate pr-0 pl-1.5 text-left text-[10.5px] hover:text-accent"
			aria-expanded={!bench.folded}
			onclick={() => bench.foldRecorded()}>{bench.folded ? '▸' : '▾'} recordings{bench.folded ? ` (${bench.lanes.length})` : ''}</button
		>
	{/if}
	{@render part('cards', 'Measure', 'Marks and cards')}
	{@render part('readings', 'Readings', 'Typed readings, sweeps and instruments')}
</div>
{#each bench.shownLanes as lane (lane.id)}
	<button
		type="button"
		id="lane-{lane.id}"
		class={[
			'flex h-[5.6rem] w-full flex-col justify-center border-b px-3 text-left',
			bench.current === lane ? 'bg-accent-wash' : 'hover:bg-card'
		]}
		aria-pressed={bench.current === lane}
		onclick={() => onChoose(lane.id)}
		data-testid="lane-label"
	>
		<span class="w-full truncate text-[13px] font-bold">{lane.derivation?.aim.name ?? 'aim deleted'}</span>
		<span class="w-full truncate text-[11px] text-soft"
			>{lane.mapping?.role === undefined ? '' : `${roleText(lane.mapping.role)}, `}{lane.recording?.name}</span
		>
		<span class={['text-[12px]', lane.verdict?.outcome === 'outside' ? 'font-bold text-fault' : 'text-accent']}>{stateText(lane)}</span>
	</button>
	{#if pinned && lane.suspected}
		<div class="overflow-hidden border-b px-3 py-2 text-[11px] leading-snug" style:height="4.4rem">
			<b class="text-warn">What if:</b>
			{mistakeText(pinned.row.codes)}
		</div>
	{/if}
{/each}

{#snippet part(which: 'cards' | 'readings', name: string, title: string)}
	<button
		type="button"
		class={['h-full px-1 text-[10.5px] underline hover:text-accent', bench.lower === which && 'font-bold text-accent']}
		{title}
		aria-pressed={bench.lower === which}
		onclick={() => (bench.lower = bench.lower === which ? 'verdict' : which)}>{name}</button
	>
{/snippet}
