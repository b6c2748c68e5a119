<script lang="ts">
	import { csvRow } from '../../../core/formats/index.js';
	import { judgeSweep, readPairs, sweepRelations, type SweepRow } from '../../../core/readings/index.js';
	import type { Sweep } from '../../../core/plan/index.js';
	import { fileName, saveFile } from '../../components/export.js';
	import Choice from '../../components/Choice.svelte';
	import Dialog from '../../components/Dialog.svelte';
	import Num from '../../components/Num.svelte';
	import TypedField from '../../components/TypedField.svelte';
	import { notices } from '../../session/notices.svelte.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { fitText, readingTrouble, relationEnd, sweepRowText } from '../../text/index.js';
	import InstrumentChoice from './InstrumentChoice.svelte';
	import { takeLog } from './readingEdits.js';
	import SweepChart from './SweepChart.svelte';

	/** One sweep: its rows against what the plan gives, the line through them, and a drawing. */
	let { session, sweep }: { session: PlanSession; sweep: Sweep } = $props();

	const at = $derived(session.plan.sweeps.findIndex(({ id }) => id === sweep.id));
	const aims = $derived(session.plan.aims.filter(({ id }) => sweepRelations(session.derivation, id).length > 0));
	const relations = $derived(sweepRelations(session.derivation, sweep.aim));
	const judged = $derived(judgeSweep(session.derivation, sweep, session.plan.instruments));
	const byIndex = $derived(new Map(judged?.rows.map((row) => [row.index, row])));
	const troubles = $derived(new Map(judged?.troubles.map((one) => [one.index, one])));
	const wrong = $derived(judged?.rows.filter(({ explained, beyond }) => explained === false && !beyond).length ?? 0);
	/** How many rows are drawn as a table; all are judged and in the chart. */
	let many = $state(100);

	const set = (field: keyof Sweep, text: string, first = true) => session.set(['sweeps', at, field], text, 'change a sweep', !first);
	const setCell = (i: number, side: 0 | 1, text: string, first: boolean) =>
		session.set(['sweeps', at, 'rows', i, side], text, 'type a row', !first);

	function takeAim(aim: string) {
		const of = sweepRelations(session.derivation, aim)[0]?.id ?? '';
		const named = aims.find(({ id }) => id === aim)?.name ?? '';
		const name = sweep.name.startsWith('sweep of ') ? `sweep of ${named}`.slice(0, 120) : sweep.name;
		session.set(['sweeps', at], { ...sweep, name, aim, of, setUnit: '', readUnit: '' }, 'sweep another aim');
	}

	const EXAMPLE = 'set 1200 Hz  read 1199.8 Hz\nset 1300 Hz  read 1299.7 Hz';
	let pasting = $state(false);
	let pasted = $state('');
	let columns = $state<[number, number] | undefined>();
	const log = $derived(readPairs(pasted, columns));

	function takePasted() {
		const { rows, passed } = takeLog(session, sweep.id, pasted, columns);
		pasting = false;
		pasted = '';
		columns = undefined;
		notices.say(`${rows} rows taken${passed > 0 ? `, ${passed} lines passed over` : ''}.`, { label: 'Undo', run: () => session.undo() });
	}

	async function readFile(files: FileList | null) {
		const file = files?.[0];
		if (file) pasted = await file.text();
	}

	function save() {
		const rows = sweep.rows.map(([a, b], i) => {
			const row = byIndex.get(i);
			return csvRow([
				a,
				b,
				row?.planned?.[0].toNumber() ?? '',
				row?.planned?.[1].toNumber() ?? '',
				row?.deviation?.toNumber() ?? '',
				rowText(i)
			]);
		});
		const head = csvRow(['set', 'read', 'planned, least', 'planned, greatest', 'off by', 'says']);
		saveFile(`${fileName(sweep.name)}.csv`, [head, ...rows, ''].join('\n'), 'text/csv');
	}

	function rowText(i: number): string {
		const trouble = troubles.get(i);
		const row = byIndex.get(i);
		return trouble
			? `${trouble.side === 'set' ? 'what was set' : 'what was read'}: ${readingTrouble(trouble.trouble)}`
			: row
				? sweepRowText(row)
				: '';
	}

	/** Of what the plan can give, what lies next to what was read. */
	const nearest = (row: SweepRow) => row.read.sub(row.deviation!);
	const tone = (row: SweepRow | undefined) => (row?.beyond ? 'text-warn' : row?.explained === false ? 'font-bold text-fault' : '');
	const unit = (of: 'set' | 'reads') => judged?.relation[of].unit ?? '';
</script>

<div class="grid min-h-0 min-w-0 grid-cols-[minmax(0,1.45fr)_minmax(0,1fr)]">
	<div class="flex min-h-0 min-w-0 flex-col">
		<div class="flex flex-wrap items-center gap-x-2 gap-y-1 border-b px-3 py-1.5 text-[12.5px]">
			<TypedField small label="Name of the sweep" least={14} value={sweep.name} onInput={(text, first) => set('name', text, first)} />
			<Choice
				class="max-w-28 text-[12px]"
				aria-label="Aim of the sweep"
				value={sweep.aim}
				onchange={(event) => takeAim(event.currentTarget.value)}
			>
				{#if !aims.some(({ id }) => id === sweep.aim)}<option value={sweep.aim}>an aim that is gone</option>{/if}
				{#each aims as { id, name } (id)}<option value={id}>{name || 'unnamed aim'}</option>{/each}
			</Choice>
			<Choice
				class="max-w-40 text-[12px]"
				aria-label="What was set and read"
				value={sweep.of}
				onchange={(event) => set('of', event.currentTarget.value)}
			>
				{#if !relations.some(({ id }) => id === sweep.of)}<option value={sweep.of}>nothing that is planned</option>{/if}
				{#each relations as { id, set: a, reads: b } (id)}<option value={id}>{relationEnd(a.of)} set, {relationEnd(b.of)} read</option
					>{/each}
			</Choice>
			<span class="ml-auto flex gap-3 text-xs">
				<button type="button" class="underline" onclick={() => (pasting = true)}>Paste a log</button>
				<button type="button" class="underline" disabled={sweep.rows.length === 0} onclick={save}>CSV</button>
				<button type="button" class="underline" onclick={() => session.remove(['sweeps', at], 'delete a sweep')}>Delete</button>
			</span>
		</div>
		<div class="flex flex-wrap items-center gap-x-2 border-b px-3 py-1 text-[12px] text-soft">
			set in <TypedField
				small
				least={3}
				label="Unit of what was set"
				value={sweep.setUnit}
				onInput={(text, first) => set('setUnit', text, first)}
			/>
			by <InstrumentChoice {session} value={sweep.setBy} label="What set it" onTake={(id) => set('setBy', id)} />, read in
			<TypedField
				small
				least={3}
				label="Unit of what was read"
				value={sweep.readUnit}
				onInput={(text, first) => set('readUnit', text, first)}
			/>
			by <InstrumentChoice {session} value={sweep.readBy} label="What read it" onTake={(id) => set('readBy', id)} />, off by
			<TypedField
				small
				least={4}
				label="What a reading can be off by"
				value={sweep.error}
				onInput={(text, first) => set('error', text, first)}
			/>
		</div>
		<div class="min-h-0 flex-1 overflow-auto pr-1 pl-3">
			<table class="w-full text-[12.5px]">
				<thead>
					<tr class="sticky top-0 bg-card text-left text-[11px] text-soft [&_th]:py-1 [&_th]:pr-2 [&_th]:font-normal">
						<th>set</th><th>read</th><th class="text-right" title="Of what the plan can give, the nearest to what was read">planned</th><th
							class="text-right">off by</th
						><th></th><th></th>
					</tr>
				</thead>
				<tbody>
					{#each sweep.rows.slice(0, many) as [a, b], i (i)}
						{@const row = byIndex.get(i)}
						<tr class="border-t align-baseline [&_td]:py-0.5 [&_td]:pr-1.5" data-testid="sweep-row">
							<td
								><TypedField small least={7} label="Set, row {i + 1}" value={a} onInput={(text, first) => setCell(i, 0, text, first)} /></td
							>
							<td
								><TypedField
									small
									least={7}
									label="Read, row {i + 1}"
									value={b}
									onInput={(text, first) => setCell(i, 1, text, first)}
								/></td
							>
							<td class="text-right whitespace-nowrap">
								{#if row?.planned}<Num value={nearest(row)} unit={unit('reads')} digits={6} />{/if}
							</td>
							<td class="text-right whitespace-nowrap"
								>{#if row?.deviation}<Num value={row.deviation} unit={unit('reads')} digits={3} sign />{/if}</td
							>
							<td class={['text-[11.5px] leading-tight', tone(row), troubles.has(i) && 'text-fault']}>{rowText(i)}</td>
							<td class="text-right">
								<button
									type="button"
									class="text-soft hover:text-fault"
									aria-label="Delete row {i + 1}"
									onclick={() => session.remove(['sweeps', at, 'rows', i], 'delete a row')}>×</button
								>
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
			{#if sweep.rows.length > many}
				<button type="button" class="my-1 text-xs underline" onclick={() => (many += 500)}>{sweep.rows.length - many} more rows</button>
			{/if}
			<button
				type="button"
				class="my-1.5 text-xs text-accent underline"
				onclick={() => session.insert(['sweeps', at, 'rows', sweep.rows.length], ['', ''], 'add a row')}>Add a row</button
			>
			{#if sweep.rows.length === 0}
				<p class="mx-auto mt-3 max-w-sm text-center text-[13px] text-soft">
					What was set and what was read, a row each: paste a log as a terminal shows it, or type it.
				</p>
			{/if}
		</div>
	</div>
	<div class="flex min-h-0 flex-col border-l p-2">
		{#if judged && judged.rows.length > 0}
			<p class="text-[12.5px]" data-testid="sweep-says">
				<b class={wrong > 0 ? 'text-fault' : ''}
					>{wrong === 0 ? 'Every row is explained' : `${wrong} of ${judged.rows.length} rows are not explained`}</b
				>{#if judged.fit};
					<span class="text-soft">{fitText(judged.fit, unit('reads'))}</span>{/if}
			</p>
			<SweepChart {judged} name={sweep.name} />
		{:else}
			<p class="mt-12 text-center text-[12px] text-soft">Rows are drawn here, over what the plan gives.</p>
		{/if}
	</div>
</div>

<Dialog bind:open={pasting} size="lg" label="Paste a log">
	<h2 class="font-serif text-xl font-semibold">Paste a log of pairs</h2>
	<p class="text-[13px] text-soft">Any words and times of day may stand between: a line counts where it has as many values as most have.</p>
	<textarea class="h-40 w-full rounded-xs border-rule bg-card num text-[12.5px]" aria-label="Log" bind:value={pasted} placeholder={EXAMPLE}
	></textarea>
	<input type="file" class="text-[13px]" aria-label="Log file" onchange={(event) => void readFile(event.currentTarget.files)} />
	{#if pasted.trim() !== ''}
		<div class="text-[13px]" data-testid="log-read">
			{#if log.rows.length === 0}
				<p class="text-fault">No line has two values or more.</p>
			{:else}
				<p class="flex flex-wrap items-center gap-1">
					{log.rows.length} rows of {log.columns} values{log.passed.length > 0 ? `, ${log.passed.length} other lines` : ''}. Set is
					{@render column(0)}, read is {@render column(1)}.
				</p>
				<table class="mt-1 num text-[12.5px]">
					<tbody>
						{#each log.rows.slice(0, 4) as [a, b], i (i)}<tr><td class="pr-6">{a}</td><td>{b}</td></tr>{/each}
					</tbody>
				</table>
			{/if}
		</div>
	{/if}
	<div class="flex justify-end gap-2">
		<button type="button" class="btn" onclick={() => (pasting = false)}>Cancel</button>
		<button type="button" class="btn-main" disabled={log.rows.length === 0} onclick={takePasted}>Take {log.rows.length} rows</button>
	</div>
</Dialog>

{#snippet column(side: 0 | 1)}
	<Choice
		class="text-[12px]"
		aria-label={side === 0 ? 'Column of what was set' : 'Column of what was read'}
		value={String(log.taken[side])}
		onchange={(event) => (columns = log.taken.with(side, Number(event.currentTarget.value)) as [number, number])}
	>
		{#each Array.from({ length: Math.min(log.columns, 50) }, (_, i) => i) as i (i)}
			<option value={String(i)}>{log.headings?.[i] ?? `value ${i + 1}`}</option>
		{/each}
	</Choice>
{/snippet}
