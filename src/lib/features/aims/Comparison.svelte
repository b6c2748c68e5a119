<script lang="ts">
	import type { ComparisonRow, Quantified } from '../../../core/aims/index.js';
	import Num from '../../components/Num.svelte';
	import { figureName } from '../../text/index.js';

	/** What was wished for beside what it comes to. */
	let { rows }: { rows: ComparisonRow[] } = $props();
</script>

{#snippet cell(of: Quantified | undefined, sign: boolean)}
	<td
		>{#if of}<Num value={of.value} unit={of.unit} digits={sign ? 4 : 7} sign={sign && of.unit !== 's' && of.unit !== 'compare'} />{/if}</td
	>
{/snippet}

<table class="mt-3 mb-2 w-full text-[13px]" data-testid="comparison">
	<thead>
		<tr class="border-b text-left text-xs text-soft [&_th]:text-right [&_th]:font-normal"
			><th><span class="sr-only">what</span></th><th>wished</th><th>achieved</th><th>off by</th></tr
		>
	</thead>
	<tbody class="[&_td]:py-0.5 [&_td]:text-right [&_th]:text-left [&_th]:font-normal [&_tr]:border-b">
		{#each rows as row (row.name)}
			<tr>
				<th>{figureName(row.name)}</th>
				{@render cell(row.wished, false)}
				{@render cell(row.achieved, false)}
				{@render cell(row.off, row.wished !== undefined)}
			</tr>
		{/each}
	</tbody>
</table>
