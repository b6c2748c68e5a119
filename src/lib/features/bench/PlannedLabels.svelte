<script lang="ts">
	import { movedTo, reordered, rowHeight, toggled, type Layout, type PlannedRow } from './benchRows.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { sortable } from '../../components/sortable.js';
	import { roleText, signsText } from '../../text/index.js';

	/** The names beside the planned lanes: fold, unfold, group and reorder them here. */
	interface Props {
		session: PlanSession;
		rows: PlannedRow[];
		layout: Layout;
		/** The aim whose panel is open. */
		chosen: string | undefined;
		onLayout: (layout: Layout) => void;
		onChoose: (aim: string) => void;
	}
	let { session, rows, layout, chosen, onLayout, onChoose }: Props = $props();

	const names = $derived(new Map(session.plan.aims.map(({ id, name }) => [id, name || 'unnamed aim'])));

	/** What a lane shows: its role, or the signs of its events. */
	function said({ drawn, role, outcome, whatIf }: Extract<PlannedRow, { kind: 'lane' }>['lane']): string {
		return drawn.kind === 'events' && drawn.sets.length > 0
			? signsText(drawn.sets.map(({ mark }) => mark))
			: roleText(role, outcome, whatIf);
	}

	function onKey(event: KeyboardEvent, aim: string) {
		if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
		event.preventDefault();
		event.stopPropagation();
		onLayout(reordered(session.plan, layout, aim, event.key === 'ArrowUp' ? -1 : 1));
	}
</script>

<div {@attach sortable('aim', 'lanes', (aim, target) => onLayout(movedTo(session.plan, layout, aim, target)))}>
	{#each rows as row, i (i)}
		{#if row.kind === 'head'}
			<div
				class="flex items-center gap-1 border-b bg-well/50 pr-1 pl-2 text-[11px] text-soft"
				style:height="{rowHeight(row)}px"
				data-testid="planned-head"
			>
				<button
					type="button"
					class="min-w-0 flex-1 truncate text-left hover:text-accent"
					aria-expanded={!row.folded}
					onclick={() => onLayout({ ...layout, folded: toggled(layout.folded, row.key) })}
					>{row.folded ? '▸' : '▾'} {row.title}{row.folded ? ` (${row.count})` : ''}</button
				>
				{#if i === 0}
					<select
						class="max-w-20 border-0 bg-transparent py-0 pr-1 pl-0 text-[11px] text-soft"
						aria-label="Group planned lanes"
						value={layout.by}
						onchange={(event) => onLayout({ ...layout, by: event.currentTarget.value as Layout['by'] })}
					>
						<option value="plan">in one</option>
						<option value="group">by group</option>
						<option value="timer">by timer</option>
					</select>
				{/if}
			</div>
		{:else}
			{@const { lane } = row}
			<div
				class={[
					'flex items-center border-b leading-tight',
					lane.detail && chosen !== lane.aim && 'bg-well/25',
					chosen === lane.aim && 'bg-accent-wash'
				]}
				style:height="{rowHeight(row)}px"
				id={row.first ? `lane-aim-${lane.aim}` : undefined}
				role="group"
				data-aim={lane.aim}
				data-testid="planned-label"
			>
				{#if row.first && row.more > 0}
					<button
						type="button"
						class="flex h-full w-5 shrink-0 items-center justify-center text-[11px] text-soft hover:text-accent"
						aria-expanded={row.open}
						aria-label="{row.open ? 'Fold' : 'Unfold'} {names.get(lane.aim)}"
						title="{row.open ? 'Hide' : 'Show'} its counter and events"
						onclick={() => onLayout({ ...layout, open: toggled(layout.open, lane.aim) })}>{row.open ? '▾' : '▸'}</button
					>
				{:else}<span class="w-5 shrink-0"></span>{/if}
				<button
					type="button"
					class="flex h-full min-w-0 flex-1 flex-col justify-center pr-2 text-left hover:text-accent"
					aria-pressed={chosen === lane.aim}
					aria-label="{names.get(lane.aim)}: {said(lane)}"
					title="Alt with up and down moves it; so does dragging"
					onkeydown={(event) => onKey(event, lane.aim)}
					onclick={() => onChoose(lane.aim)}
				>
					{#if row.first}<span class="w-full truncate text-[12.5px] font-semibold">{names.get(lane.aim)}</span>{/if}
					<span class={['w-full truncate text-[10.5px]', lane.whatIf ? 'text-warn' : 'text-soft']}>{said(lane)}</span>
				</button>
			</div>
		{/if}
	{/each}
</div>
