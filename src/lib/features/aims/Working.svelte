<script lang="ts">
	import { Rational } from '../../../core/exact/index.js';
	import { csvRow } from '../../../core/formats/index.js';
	import { readWhole, type Aim, type AimDerivation, type AimTable, type CandidateEdit, type TableCell } from '../../../core/aims/index.js';
	import { joinSteps, setStep } from '../../../core/plan/index.js';
	import { fileName, saveFile } from '../../components/export.js';
	import type { PlanSession } from '../../session/session.svelte.js';
	import { cellText, figureName, formulaText, hex, linkName, problemText } from '../../text/index.js';
	import Choosing from './Choosing.svelte';
	import Comparison from './Comparison.svelte';
	import CopyText from '../../components/CopyText.svelte';
	import CurveChart from '../../components/CurveChart.svelte';
	import InTurn from '../../components/InTurn.svelte';
	import Num from '../../components/Num.svelte';
	import Registers from './Registers.svelte';
	import Settings from './Settings.svelte';
	import TurnedAround from './TurnedAround.svelte';

	let { session, derivation }: { session: PlanSession; derivation: AimDerivation } = $props();

	const { aim, table, charts = [], tradeoff, words, comparison } = $derived(derivation);
	const full = $derived(session.plan.aims.find(({ id }) => id === aim.id)!);
	const index = $derived(session.plan.aims.findIndex((a) => a.id === aim.id));
	const titled = (title: string) => title.charAt(0).toUpperCase() + title.slice(1);
	const registers = $derived([
		...derivation.strip.flatMap(({ name, register, stages = [] }) => [
			...(register ? [{ name: titled(linkName(name)), ...register }] : []),
			...stages.flatMap(({ ratio, code, width }, i) =>
				code === null ? [] : [{ name: `${titled(linkName(name))}, stage ${i + 1}: ÷ ${ratio}`, value: code, width }]
			)
		]),
		...(derivation.later ?? []).map(({ name, ...register }) => ({ name: figureName(name), ...register }))
	]);
	/** A long table is looked at in part and saved as a whole. */
	const SHOWN = 256;
	const FEW = 12;
	const rows = $derived(table?.rows.slice(0, SHOWN) ?? []);
	/** Any row of a long table, or of one that shows a choice of them, by its first column. */
	const ask = $derived(table && (table.ask ?? wholeOf(table)));
	let asked = $state('');
	const askedFor = $derived.by(() => {
		if (!ask || asked.trim() === '') return undefined;
		const read = readWhole(asked, 0);
		if (!read.ok) return problemText(read.problem);
		return ask.row(read.value) ?? `There is no ${read.value} from ${ask.first ?? 0} to ${ask.last}.`;
	});
	const wordList = $derived((words ?? []).map(({ set, clear }) => `${hex(set, 32)}, ${hex(clear, 32)}`).join('\n'));

	/** What the dashed lines of the chart stand for. */
	function limitsOf(of: Aim): string {
		const tolerance = 'tolerance' in of ? `± ${of.tolerance}` : 'none';
		return 'bits' in of ? `${tolerance}, ${of.bits}` : tolerance;
	}

	/** A long table whose rows are numbered. */
	function wholeOf({ columns, rows: all }: AimTable): AimTable['ask'] {
		if (columns[0].name !== 'row' || all.length <= FEW) return undefined;
		return { last: all.length - 1, row: (k) => all.at(k)?.values };
	}

	/** Holds what a candidate holds, and sets what it sets, as one undoable step. */
	function take({ locks = {}, fields = {} }: CandidateEdit) {
		const said = [...Object.entries(locks), ...Object.entries(fields)].map(([key, value]) => `${key} ${value}`).join(', ');
		const label = `take ${said} for ${aim.name}`;
		const steps = [
			...Object.entries(locks).map(([link, value]) => setStep(session.plan, ['aims', index, 'locks', link], value, label)),
			...Object.entries(fields).map(([field, value]) => setStep(session.plan, ['aims', index, field], value, label))
		];
		if (steps.length > 0) session.edit(joinSteps(label, steps));
	}

	function saveTable({ columns, rows: all }: AimTable) {
		const cell = (value: TableCell) => (value instanceof Rational ? value.toString().replace(/\/1$/, '') : cellText(value));
		const head = csvRow(columns.map(({ name, unit }) => `${figureName(name)}${unit ? ` (${unit === '%' ? 'ratio' : unit})` : ''}`));
		saveFile(`${fileName(aim.name)}-table.csv`, [head, ...all.map(({ values }) => csvRow(values.map(cell))), ''].join('\n'), 'text/csv');
	}
</script>

<div class="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)] gap-5" data-testid="working">
	<div class="min-w-0">
		<h3 class="mb-1 text-xs font-bold text-soft">Working</h3>
		<ul class="mb-3 grid gap-0.5 num text-[12.5px]" data-testid="formulas">
			{#each derivation.formulas as formula (formula.code)}<li class="break-words">{formulaText(formula)}</li>{/each}
		</ul>
		{#if comparison}<Comparison rows={comparison} />{/if}
		<TurnedAround {derivation} />
		{#if tradeoff}{@render drawn()}{/if}
		{#if table && (tradeoff || charts.length > 0)}{@render choices(table)}{/if}
		{#if words}
			<div class="mb-3 min-w-0" data-testid="words">
				<h3 class="mb-1 flex gap-3 text-xs font-bold text-soft">
					Words: bits set, bits cleared <CopyText text={wordList} label="copy all" />
				</h3>
				<ol class="grid max-h-40 grid-cols-2 gap-x-4 overflow-y-auto num text-[12px]">
					{#each words.slice(0, SHOWN) as word, k (k)}<li>
							<span class="text-soft">{k}</span>
							{hex(word.set, 32)}
							{hex(word.clear, 32)}
						</li>{/each}
				</ol>
				{#if words.length > SHOWN}<p class="text-xs text-soft">The first {SHOWN} of {words.length}; all of them are copied.</p>{/if}
			</div>
		{/if}
		<Registers {registers} />
		<InTurn><Choosing {session} aim={full} /></InTurn>
	</div>
	<div class="min-w-0">
		{#if tradeoff}
			<InTurn
				><Settings
					{session}
					aim={full}
					question={tradeoff}
					timer={derivation.timer}
					decidedBy={derivation.sharedWith?.name}
					limits={limitsOf(full)}
				/></InTurn
			>
		{:else}{@render drawn()}{/if}
		{#if table && !tradeoff && charts.length === 0}{@render choices(table)}{/if}
	</div>
</div>

{#snippet drawn()}
	{#each charts as chart (chart.code)}<CurveChart {chart} name={aim.name} onTake={take} tall={charts.length === 1 && !tradeoff} />{/each}
{/snippet}

{#snippet choices(shown: AimTable)}
	<div class="mb-1 flex items-baseline gap-3 text-xs">
		{#if ask}<label class="text-soft"
				>{figureName(shown.columns[0].name)}
				<input
					class="w-24 rounded-xs border bg-card px-1 py-0 num text-xs"
					aria-label="Any {figureName(shown.columns[0].name).toLowerCase()} of the table of {aim.name}"
					placeholder="{ask.first ?? 0} to {ask.last}"
					bind:value={asked}
				/></label
			>{/if}
		{#if typeof askedFor === 'string'}<span class="text-fault" role="alert">{askedFor}</span>{/if}
		<button type="button" class="ml-auto underline" onclick={() => saveTable(shown)}>CSV</button>
	</div>
	<div class="max-h-72 overflow-y-auto">
		<table class="w-full text-[13px]" data-testid="choices">
			<thead class="sticky top-0 bg-paper text-right text-xs text-soft [&_th]:px-2 [&_th]:font-normal"
				><tr class="border-b"
					>{#each shown.columns as column (column.name)}<th>{figureName(column.name)}</th>{/each}{#if rows.some((row) => row.edit)}<th
							><span class="sr-only">take it</span></th
						>{/if}</tr
				></thead
			>
			<tbody class="[&_td]:px-2 [&_td]:py-0.5 [&_td]:text-right [&_tr]:border-b">
				{#if askedFor && typeof askedFor !== 'string'}
					<tr class="bg-warn-wash font-bold" data-testid="asked">
						{#each askedFor as value, k (k)}<td
								>{#if value instanceof Rational}<Num {value} unit={shown.columns[k].unit} digits={5} />{:else}{cellText(value)}{/if}</td
							>{/each}{#if rows.some((row) => row.edit)}<td></td>{/if}
					</tr>
				{/if}
				{#each rows as row, i (i)}
					<tr class={row.chosen ? 'bg-accent-wash font-bold' : ''}>
						{#each row.values as value, k (k)}
							<td
								>{#if value instanceof Rational}<Num {value} unit={shown.columns[k].unit} digits={5} />{:else}{cellText(value)}{/if}</td
							>
						{/each}
						{#if row.edit}{@const links = row.edit}<td
								><button type="button" class="font-normal underline hover:text-accent" onclick={() => take(links)}>take</button></td
							>{/if}
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	{#if shown.rows.length > SHOWN}<p class="text-xs text-soft">The first {SHOWN} of {shown.rows.length} rows; the CSV has them all.</p>{/if}
{/snippet}
