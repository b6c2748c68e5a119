<script lang="ts">
	import type { LineSettings, ReadSettings } from '../../../core/formats/index.js';
	import type { WirePreview } from '../../../workers/filesWire.js';
	import Choice from '../../components/Choice.svelte';

	/** The first lines of a file, with what each column is taken for above it. */
	interface Props {
		preview: WirePreview;
		settings: ReadSettings;
		onLine: (number: number, change: LineSettings) => void;
	}
	let { preview, settings, onLine }: Props = $props();

	const rows = $derived(preview.rows);
	const width = $derived(rows ? Math.max(rows.columns.length, ...rows.cells.map((row) => row.length)) : 0);
	const lineOf = (number: number) => preview.lines.find((line) => line.number === number);

	const AS = [
		['levels', 'levels'],
		['analogue', 'analogue'],
		['nothing', 'left out']
	] as const;
</script>

{#snippet takenAs(number: number, name: string)}
	<span class="flex flex-col gap-0.5">
		<input
			class="w-full min-w-20 rounded-xs border bg-card px-1 py-0 text-[12px] font-bold"
			aria-label="Name of {name}"
			value={settings.lines?.[number]?.name ?? lineOf(number)?.name ?? name}
			oninput={(event) => onLine(number, { name: event.currentTarget.value || undefined })}
		/>
		<Choice
			class="w-full text-[12px]"
			aria-label="{name} is taken for"
			value={settings.lines?.[number]?.as ?? lineOf(number)?.as ?? 'nothing'}
			onchange={(event) => onLine(number, { as: event.currentTarget.value as LineSettings['as'] })}
		>
			{#each AS as [value, word] (value)}<option {value}>{word}</option>{/each}
		</Choice>
	</span>
{/snippet}

<div class="mt-3 max-h-72 overflow-auto rounded-xs border bg-paper" data-testid="preview">
	{#if rows}
		<table class="w-full border-collapse text-[12px]">
			<thead class="sticky top-0 bg-well">
				<tr>
					<th class="w-8"><span class="sr-only">line</span></th>
					{#each { length: width } as _, column (column)}
						<th class="border-b border-l px-1.5 py-1 text-left align-top font-normal">
							{#if column === rows.timeColumn}<b>{rows.columns[column]}</b><br /><span class="text-soft">time</span>
							{:else if column < rows.columns.length}{@render takenAs(column, rows.columns[column])}{/if}
						</th>
					{/each}
				</tr>
			</thead>
			<tbody>
				{#each rows.cells as row, i (i)}
					<tr class={i + 1 < rows.firstRow ? 'text-soft italic' : i + 1 === rows.firstRow ? 'border-t-2 border-accent' : ''}>
						<td class="pr-1 text-right num text-[11px] text-soft">{i + 1}</td>
						{#each { length: width } as _, column (column)}
							<td class="max-w-52 truncate border-l px-1.5 num" title={row[column]}>{row[column] ?? ''}</td>
						{/each}
					</tr>
				{/each}
			</tbody>
		</table>
	{:else}
		<div class="grid grid-cols-[repeat(auto-fill,minmax(9rem,1fr))] gap-2 p-2">
			{#each preview.lines as line (line.number)}{@render takenAs(line.number, line.name)}{/each}
		</div>
		{#if preview.text}<pre class="border-t px-2 py-1 text-[11px] text-soft">{preview.text.join('\n')}</pre>{/if}
	{/if}
</div>
